-- Jobs that are done and have left the yard. They stay whole, and are found again.
CREATE TABLE finished_job (
    job_id  uuid PRIMARY KEY REFERENCES job,
    at      timestamptz NOT NULL DEFAULT now(),
    crew_id uuid NOT NULL REFERENCES crew
);
GRANT SELECT, INSERT, DELETE ON finished_job TO windrift_app;
CREATE FUNCTION tell_finished() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('windrift', jsonb_build_object('what', 'job', 'job', coalesce(NEW.job_id, OLD.job_id))::text);
    RETURN NULL;
END $$;
CREATE TRIGGER told AFTER INSERT OR DELETE ON finished_job FOR EACH ROW EXECUTE FUNCTION tell_finished();
