-- When a job's fitting starts, and what is done of what comes before it.
CREATE TABLE fitting (
    job_id   uuid PRIMARY KEY REFERENCES job,
    revision integer NOT NULL DEFAULT 1,
    at       timestamptz NOT NULL DEFAULT now(),
    crew_id  uuid NOT NULL REFERENCES crew,
    spec     jsonb NOT NULL
);
GRANT SELECT, INSERT ON fitting TO windrift_app;
GRANT UPDATE (revision, at, crew_id, spec) ON fitting TO windrift_app;
