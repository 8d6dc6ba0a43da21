-- What changed is told to every server that listens, when its transaction is done: which job, under which id, and no more. Whoever hears
-- of it asks for what they may see.
CREATE FUNCTION tell_change() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
    changed jsonb := to_jsonb(NEW);
BEGIN
    PERFORM pg_notify('windrift', jsonb_build_object(
        'what', TG_ARGV[0],
        'job', CASE TG_ARGV[0] WHEN 'job' THEN coalesce(changed->>'job_id', changed->>'id') END,
        'id', changed->>'id'
    )::text);
    RETURN NULL;
END $$;
CREATE TRIGGER told AFTER INSERT ON edit FOR EACH ROW EXECUTE FUNCTION tell_change('job');
CREATE TRIGGER told AFTER INSERT ON edit_step FOR EACH ROW EXECUTE FUNCTION tell_change('job');
CREATE TRIGGER told AFTER INSERT ON record FOR EACH ROW EXECUTE FUNCTION tell_change('job');
CREATE TRIGGER told AFTER INSERT ON plan FOR EACH ROW EXECUTE FUNCTION tell_change('job');
CREATE TRIGGER told AFTER INSERT OR UPDATE ON job FOR EACH ROW EXECUTE FUNCTION tell_change('job');
CREATE TRIGGER told AFTER INSERT OR UPDATE ON fitting FOR EACH ROW EXECUTE FUNCTION tell_change('job');
CREATE TRIGGER told AFTER INSERT OR UPDATE ON shop FOR EACH ROW EXECUTE FUNCTION tell_change('shop');
CREATE TRIGGER told AFTER INSERT OR UPDATE ON crew FOR EACH ROW EXECUTE FUNCTION tell_change('shop');
CREATE TRIGGER told AFTER INSERT OR UPDATE ON typeface FOR EACH ROW EXECUTE FUNCTION tell_change('shop');
CREATE TRIGGER told AFTER INSERT OR UPDATE ON figure_correction FOR EACH ROW EXECUTE FUNCTION tell_change('shop');
CREATE TRIGGER told AFTER INSERT OR UPDATE ON tape FOR EACH ROW EXECUTE FUNCTION tell_change('shelf');
CREATE TRIGGER told AFTER INSERT ON side_template FOR EACH ROW EXECUTE FUNCTION tell_change('templates');
CREATE TRIGGER told AFTER INSERT OR UPDATE ON film FOR EACH ROW EXECUTE FUNCTION tell_change('shelf');
CREATE TRIGGER told AFTER INSERT OR UPDATE ON roll FOR EACH ROW EXECUTE FUNCTION tell_change('shelf');
CREATE TRIGGER told AFTER INSERT OR UPDATE ON supply FOR EACH ROW EXECUTE FUNCTION tell_change('shelf');

-- Who is where just now. Nothing is lost where this is: it is written anew within seconds.
CREATE UNLOGGED TABLE presence (
    session_id uuid NOT NULL,
    crew_id    uuid NOT NULL REFERENCES crew,
    job_id     uuid NOT NULL REFERENCES job,
    side_id    uuid NOT NULL,
    stage      text NOT NULL,
    at         timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (session_id, crew_id)
);
CREATE INDEX presence_of_job ON presence (job_id);
GRANT SELECT, INSERT, UPDATE, DELETE ON presence TO windrift_app;
CREATE FUNCTION tell_presence() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    -- Somebody who stays where they were is no news.
    IF TG_OP = 'UPDATE' AND OLD.job_id = NEW.job_id AND OLD.side_id = NEW.side_id AND OLD.stage = NEW.stage
        AND OLD.at > NEW.at - interval '40 seconds' THEN
        RETURN NULL;
    END IF;
    IF TG_OP IN ('UPDATE', 'DELETE') THEN
        PERFORM pg_notify('windrift', jsonb_build_object('what', 'here', 'job', OLD.job_id)::text);
    END IF;
    IF TG_OP IN ('UPDATE', 'INSERT') THEN
        PERFORM pg_notify('windrift', jsonb_build_object('what', 'here', 'job', NEW.job_id)::text);
    END IF;
    RETURN NULL;
END $$;
CREATE TRIGGER told AFTER INSERT OR UPDATE OR DELETE ON presence FOR EACH ROW EXECUTE FUNCTION tell_presence();
