-- Films of the shop. One that is taken off the shelf is only retired: pieces carry a copy of what they were planned with.
CREATE TABLE film (
    id       uuid PRIMARY KEY,
    at       timestamptz NOT NULL DEFAULT now(),
    crew_id  uuid NOT NULL REFERENCES crew,
    revision integer NOT NULL DEFAULT 1,
    spec     jsonb NOT NULL,
    retired  boolean NOT NULL DEFAULT false
);

-- Rolls and offcuts. What is left is changed with the entry that says why, in one transaction.
CREATE TABLE roll (
    id       uuid PRIMARY KEY,
    film_id  uuid NOT NULL REFERENCES film,
    at       timestamptz NOT NULL DEFAULT now(),
    crew_id  uuid NOT NULL REFERENCES crew,
    revision integer NOT NULL DEFAULT 1,
    spec     jsonb NOT NULL,
    left_mm  double precision NOT NULL CHECK (left_mm >= 0 AND left_mm < 'infinity'),
    retired  boolean NOT NULL DEFAULT false
);
CREATE INDEX roll_film ON roll (film_id);

-- What was taken from a roll, put back as an offcut, or measured on it. Only added to.
CREATE TABLE roll_entry (
    id        uuid PRIMARY KEY,
    roll_id   uuid NOT NULL REFERENCES roll,
    job_id    uuid REFERENCES job,
    at        timestamptz NOT NULL DEFAULT now(),
    crew_id   uuid NOT NULL REFERENCES crew,
    -- 'take' or 'measured'
    kind      text NOT NULL CHECK (kind IN ('take', 'measured')),
    -- Length taken; of a measuring nothing.
    length_mm double precision CHECK (length_mm > 0 AND length_mm < 'infinity'),
    -- What was left afterwards.
    left_mm   double precision NOT NULL CHECK (left_mm >= 0 AND left_mm < 'infinity'),
    spec      jsonb NOT NULL
);
CREATE INDEX roll_entry_roll ON roll_entry (roll_id);
CREATE INDEX roll_entry_job ON roll_entry (job_id);

CREATE TRIGGER roll_entry_is_only_added_to BEFORE UPDATE OR DELETE OR TRUNCATE ON roll_entry
    FOR EACH STATEMENT EXECUTE FUNCTION record_is_append_only();

GRANT SELECT, INSERT ON film, roll, roll_entry TO windrift_app;
GRANT UPDATE (revision, spec, retired, crew_id) ON film TO windrift_app;
GRANT UPDATE (revision, left_mm, retired) ON roll TO windrift_app;
