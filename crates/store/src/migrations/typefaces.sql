-- The shop's own typefaces, as their files were given. Never changed: lettering that is cut in one must stay as it was drawn.
CREATE TABLE typeface (
    id      uuid PRIMARY KEY,
    name    text NOT NULL,
    at      timestamptz NOT NULL DEFAULT now(),
    crew_id uuid NOT NULL REFERENCES crew,
    file    bytea NOT NULL,
    -- No longer offered for new lettering.
    retired boolean NOT NULL DEFAULT false
);

GRANT SELECT, INSERT ON typeface TO windrift_app;
GRANT UPDATE (retired) ON typeface TO windrift_app;
