-- What people rely on: the record and the history of edits can be added to by the application and never rewritten by it.

-- Every job has a head from its first moment; only the owner's functions touch it.
CREATE FUNCTION job_gets_a_head() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    INSERT INTO job_head (job_id) VALUES (NEW.id);
    RETURN NEW;
END $$;
CREATE TRIGGER job_has_a_head AFTER INSERT ON job FOR EACH ROW EXECUTE FUNCTION job_gets_a_head();

-- Appends one entry: who, when, kind and piece are read out of the stored bytes themselves, so that no column can say something else
-- than what the hash covers. Locks the job's head, so that two writers follow each other.
CREATE FUNCTION append_record(to_job uuid, entry bytea) RETURNS TABLE (new_seq bigint, new_hash bytea)
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    head job_head%ROWTYPE;
    body jsonb := convert_from(entry, 'UTF8')::jsonb;
BEGIN
    SELECT * INTO STRICT head FROM job_head WHERE job_id = to_job FOR UPDATE;
    new_seq := head.last_seq + 1;
    new_hash := sha256(head.last_hash || uuid_send(to_job) || int8send(new_seq) || entry);
    INSERT INTO record (job_id, seq, id, at, crew_id, kind, piece_id, bytes, previous, hash)
    VALUES (to_job, new_seq, (body->>'id')::uuid, (body->>'at')::timestamptz, (body->>'crew')::uuid, body->>'kind', (body->>'piece')::uuid,
            entry, head.last_hash, new_hash);
    UPDATE job_head SET last_seq = new_seq, last_hash = new_hash WHERE job_id = to_job;
    RETURN NEXT;
END $$;
REVOKE ALL ON FUNCTION job_gets_a_head(), append_record(uuid, bytea) FROM PUBLIC;
GRANT EXECUTE ON FUNCTION append_record(uuid, bytea) TO windrift_app;

-- What an edit did stays as it was written: only whether it stands may change.
ALTER TABLE edit ADD COLUMN passed boolean NOT NULL DEFAULT false;
CREATE FUNCTION edit_stays_as_written() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'an edit is never rewritten: undo it, or make another';
END $$;
CREATE TRIGGER edit_keeps_rows BEFORE DELETE ON edit FOR EACH ROW EXECUTE FUNCTION edit_stays_as_written();
CREATE TRIGGER edit_keeps_all BEFORE TRUNCATE ON edit FOR EACH STATEMENT EXECUTE FUNCTION edit_stays_as_written();

-- Undo and redo are acts with an id of their own, so that a press whose answer was lost is not taken for two.
CREATE TABLE edit_step (
    id       uuid PRIMARY KEY,
    job_id   uuid NOT NULL REFERENCES job,
    crew_id  uuid NOT NULL REFERENCES crew,
    at       timestamptz NOT NULL DEFAULT now(),
    back     boolean NOT NULL,
    answered jsonb NOT NULL
);

-- What the readings were wanted to be when a hinge was locked: the lock holds for that place, not for a revision.
ALTER TABLE hinge_lock ADD COLUMN hangs_at jsonb;

-- Settings are edited like everything else; a plan is known by what it froze.
ALTER TABLE shop ADD COLUMN revision integer NOT NULL DEFAULT 1;
ALTER TABLE shop ADD COLUMN crew_id uuid REFERENCES crew;
ALTER TABLE plan ADD COLUMN hash bytea;
-- Hashed where it is kept: JSONB writes numbers in its own way, so that only the database can say what it keeps.
CREATE FUNCTION snapshot_hash(snapshot jsonb) RETURNS bytea LANGUAGE sql AS $$ SELECT sha256(convert_to(snapshot::text, 'UTF8')) $$;
-- A typeface is known by its content: lettering in a plan names the file that it was cut from.
ALTER TABLE typeface ADD COLUMN hash bytea;
UPDATE typeface SET hash = sha256(file);
ALTER TABLE typeface ALTER COLUMN hash SET NOT NULL;

REVOKE INSERT, UPDATE ON job_head FROM windrift_app;
REVOKE INSERT ON record FROM windrift_app;
REVOKE UPDATE ON edit, crew FROM windrift_app;
GRANT UPDATE (undone, passed, left_revision) ON edit TO windrift_app;
GRANT SELECT, INSERT ON edit_step TO windrift_app;
