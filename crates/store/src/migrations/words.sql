-- The words that a job is found by, in one place: its title, customer, vehicle, year, and what is lettered on it.
CREATE TABLE job_words (
    job_id uuid PRIMARY KEY REFERENCES job,
    words  text NOT NULL
);
GRANT SELECT ON job_words TO windrift_app;
CREATE FUNCTION words_of_job(wanted uuid) RETURNS text LANGUAGE sql STABLE AS $$
    SELECT concat_ws(' ', j.title, j.customer, j.vehicle_kind, to_char(j.created_at, 'YYYY'),
        (SELECT string_agg(p.spec->'art'->>'text', ' ') FROM side s JOIN piece p ON p.parent_id = s.id WHERE s.parent_id = j.id))
    FROM job j WHERE j.id = wanted
$$;
-- Written by the database itself, whoever changes what: the application may only read it.
CREATE FUNCTION keep_words(wanted uuid) RETURNS void LANGUAGE sql SECURITY DEFINER SET search_path = public, pg_temp AS $$
    INSERT INTO job_words (job_id, words) SELECT wanted, words_of_job(wanted) WHERE EXISTS (SELECT 1 FROM job WHERE id = wanted)
    ON CONFLICT (job_id) DO UPDATE SET words = EXCLUDED.words
$$;
CREATE FUNCTION words_of_job_changed() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    PERFORM keep_words(NEW.id);
    RETURN NULL;
END $$;
CREATE FUNCTION words_of_piece_changed() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    -- A piece that moves says what it said.
    IF TG_OP = 'UPDATE' AND OLD.spec->'art'->'text' IS NOT DISTINCT FROM NEW.spec->'art'->'text' THEN
        RETURN NULL;
    END IF;
    PERFORM keep_words(s.parent_id) FROM side s WHERE s.id = CASE TG_OP WHEN 'DELETE' THEN OLD.parent_id ELSE NEW.parent_id END;
    RETURN NULL;
END $$;
REVOKE ALL ON FUNCTION keep_words(uuid), words_of_job_changed(), words_of_piece_changed() FROM PUBLIC;
CREATE TRIGGER found_by AFTER INSERT OR UPDATE ON job FOR EACH ROW EXECUTE FUNCTION words_of_job_changed();
CREATE TRIGGER found_by AFTER INSERT OR UPDATE OR DELETE ON piece FOR EACH ROW EXECUTE FUNCTION words_of_piece_changed();
INSERT INTO job_words (job_id, words) SELECT id, words_of_job(id) FROM job;
