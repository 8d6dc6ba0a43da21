-- Photos as they are kept: pixels only, a whole and a small copy.
CREATE TABLE photo (
    id      uuid PRIMARY KEY,
    job_id  uuid NOT NULL REFERENCES job,
    at      timestamptz NOT NULL DEFAULT now(),
    crew_id uuid NOT NULL REFERENCES crew,
    width   integer NOT NULL,
    height  integer NOT NULL,
    jpeg    bytea NOT NULL,
    small   bytea NOT NULL
);
CREATE INDEX photo_of_job ON photo (job_id);

-- The shop's own sides to start from.
CREATE TABLE side_template (
    id      uuid PRIMARY KEY,
    name    text NOT NULL,
    at      timestamptz NOT NULL DEFAULT now(),
    crew_id uuid NOT NULL REFERENCES crew,
    spec    jsonb NOT NULL
);

-- Edits made in one go are taken back in one go.
ALTER TABLE edit ADD COLUMN batch uuid;
CREATE INDEX edit_of_batch ON edit (batch) WHERE batch IS NOT NULL;

CREATE INDEX record_of_kind ON record (job_id, kind, seq);

GRANT SELECT, INSERT ON photo TO windrift_app;
GRANT SELECT, INSERT, DELETE ON side_template TO windrift_app;
