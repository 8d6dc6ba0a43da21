-- The shop, its crew and its jobs.
CREATE TABLE shop (
    id       integer PRIMARY KEY CHECK (id = 1),
    name     text NOT NULL,
    settings jsonb NOT NULL
);

CREATE TABLE crew (
    id       uuid PRIMARY KEY,
    name     text NOT NULL UNIQUE,
    role     text NOT NULL CHECK (role IN ('lead', 'fitter', 'viewer')),
    position integer NOT NULL
);

CREATE TABLE job (
    id           uuid PRIMARY KEY,
    revision     integer NOT NULL DEFAULT 1,
    customer     text NOT NULL,
    title        text NOT NULL,
    vehicle_kind text NOT NULL,
    unit         text NOT NULL,
    created_at   timestamptz NOT NULL DEFAULT now(),
    created_by   uuid NOT NULL REFERENCES crew
);
CREATE INDEX job_newest ON job (created_at DESC, id DESC);

-- Rows that people edit: each has its own revision, so that two people can work on different features of one side.
CREATE TABLE side (
    id        uuid PRIMARY KEY,
    parent_id uuid NOT NULL REFERENCES job,
    revision  integer NOT NULL DEFAULT 1,
    spec      jsonb NOT NULL
);
CREATE INDEX side_of_job ON side (parent_id);

CREATE TABLE feature (
    id        uuid PRIMARY KEY,
    parent_id uuid NOT NULL REFERENCES side,
    revision  integer NOT NULL DEFAULT 1,
    spec      jsonb NOT NULL
);
CREATE INDEX feature_of_side ON feature (parent_id);

CREATE TABLE piece (
    id        uuid PRIMARY KEY,
    parent_id uuid NOT NULL REFERENCES side,
    revision  integer NOT NULL DEFAULT 1,
    spec      jsonb NOT NULL
);
CREATE INDEX piece_of_side ON piece (parent_id);

-- Every edit with what stood before and after: for undo by the person who made it, and so that a repeated request is known.
CREATE TABLE edit (
    id            uuid PRIMARY KEY,
    number        bigint GENERATED ALWAYS AS IDENTITY,
    job_id        uuid NOT NULL REFERENCES job,
    crew_id       uuid NOT NULL REFERENCES crew,
    at            timestamptz NOT NULL DEFAULT now(),
    kind          text NOT NULL CHECK (kind IN ('side', 'feature', 'piece')),
    row_id        uuid NOT NULL,
    parent_id     uuid NOT NULL,
    before        jsonb,
    after         jsonb,
    left_revision integer NOT NULL,
    undone        boolean NOT NULL DEFAULT false
);
CREATE INDEX edit_of_row ON edit (row_id, number DESC);
CREATE INDEX edit_of_person ON edit (job_id, crew_id, number DESC);

-- The record: one chain for each job. Appending locks the job's head row.
CREATE TABLE job_head (
    job_id    uuid PRIMARY KEY REFERENCES job,
    last_seq  bigint NOT NULL DEFAULT 0,
    last_hash bytea NOT NULL DEFAULT decode(repeat('00', 32), 'hex')
);

CREATE TABLE record (
    job_id   uuid NOT NULL REFERENCES job,
    seq      bigint NOT NULL,
    id       uuid NOT NULL UNIQUE,
    at       timestamptz NOT NULL,
    crew_id  uuid NOT NULL REFERENCES crew,
    kind     text NOT NULL,
    piece_id uuid,
    bytes    bytea NOT NULL,
    previous bytea NOT NULL,
    hash     bytea NOT NULL,
    PRIMARY KEY (job_id, seq)
);
CREATE INDEX record_of_piece ON record (piece_id, seq);

CREATE FUNCTION record_is_append_only() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'the record is append-only: write a correction as a new entry';
END $$;
CREATE TRIGGER record_keeps_rows BEFORE UPDATE OR DELETE ON record
    FOR EACH ROW EXECUTE FUNCTION record_is_append_only();
CREATE TRIGGER record_keeps_all BEFORE TRUNCATE ON record
    FOR EACH STATEMENT EXECUTE FUNCTION record_is_append_only();

-- A hinge that was locked, for the revisions that it was locked at: an edit afterwards opens it again.
CREATE TABLE hinge_lock (
    piece_id       uuid PRIMARY KEY,
    piece_revision integer NOT NULL,
    side_revision  integer NOT NULL,
    seq            bigint NOT NULL,
    at             timestamptz NOT NULL,
    crew_id        uuid NOT NULL REFERENCES crew
);

-- An issued plan pins the revisions that it was made from and carries them whole.
CREATE TABLE plan (
    id        uuid PRIMARY KEY,
    job_id    uuid NOT NULL REFERENCES job,
    number    integer NOT NULL,
    at        timestamptz NOT NULL DEFAULT now(),
    crew_id   uuid NOT NULL REFERENCES crew,
    revisions jsonb NOT NULL,
    snapshot  jsonb NOT NULL,
    UNIQUE (job_id, number)
);

-- The application's role owns nothing. It may add to the record and to issued plans, never change them.
GRANT USAGE ON SCHEMA public TO windrift_app;
GRANT SELECT ON seaql_migrations TO windrift_app;
GRANT SELECT, INSERT, UPDATE ON shop, crew, job, job_head, edit TO windrift_app;
GRANT SELECT, INSERT, UPDATE, DELETE ON side, feature, piece, hinge_lock TO windrift_app;
GRANT SELECT, INSERT ON record, plan TO windrift_app;
