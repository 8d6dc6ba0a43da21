-- Tapes, liquids, blades and wipes. One that is used up and not bought again is only retired.
CREATE TABLE supply (
    id       uuid PRIMARY KEY,
    at       timestamptz NOT NULL DEFAULT now(),
    crew_id  uuid NOT NULL REFERENCES crew,
    revision integer NOT NULL DEFAULT 1,
    spec     jsonb NOT NULL,
    retired  boolean NOT NULL DEFAULT false
);

GRANT SELECT, INSERT ON supply TO windrift_app;
GRANT UPDATE (revision, spec, retired, crew_id) ON supply TO windrift_app;
