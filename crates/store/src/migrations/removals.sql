-- By when the film of a job comes off, as it was worked out from its newest entry of film that lies: a list of all vehicles is asked for at once.
CREATE TABLE removal (
    job_id uuid PRIMARY KEY REFERENCES job,
    -- The entry of the record that it follows from.
    seq    bigint NOT NULL,
    -- Nothing where no life of its film is known.
    due    timestamptz,
    says   text NOT NULL,
    why    text NOT NULL,
    -- When somebody said that it is off, and who.
    off_at timestamptz,
    off_by uuid REFERENCES crew
);
CREATE INDEX removal_due ON removal (due) WHERE off_at IS NULL;
CREATE INDEX record_of_laid_by_job ON record (job_id, seq) WHERE kind = 'laid';
GRANT SELECT, INSERT, UPDATE ON removal TO windrift_app;
