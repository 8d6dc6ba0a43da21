-- A job shared read-only with whoever holds a link. What the link holds is kept hashed; a withdrawn one stays for the list.
CREATE TABLE link (
    id         uuid PRIMARY KEY,
    job_id     uuid NOT NULL REFERENCES job,
    token_hash bytea NOT NULL UNIQUE,
    whom       text NOT NULL,
    crew_id    uuid NOT NULL REFERENCES crew,
    at         timestamptz NOT NULL DEFAULT now(),
    expires    timestamptz NOT NULL,
    opened     timestamptz,
    withdrawn  boolean NOT NULL DEFAULT false
);
CREATE INDEX link_of_job ON link (job_id);
GRANT SELECT, INSERT ON link TO windrift_app;
GRANT UPDATE (opened, withdrawn) ON link TO windrift_app;
