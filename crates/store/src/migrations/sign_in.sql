-- Who may come in. Kept apart from the crew, whose names go on paper and into bundles.

-- The made-up shop is open: whoever has no passphrase there signs in with one press.
ALTER TABLE shop ADD COLUMN open boolean NOT NULL DEFAULT false;

-- Hashes by argon2id, salt and cost in their own text form. `once`: made by the lead, good for one sign-in until it expires.
CREATE TABLE passphrase (
    crew_id uuid PRIMARY KEY REFERENCES crew,
    hash    text NOT NULL,
    once    boolean NOT NULL DEFAULT false,
    expires timestamptz,
    at      timestamptz NOT NULL DEFAULT now()
);
CREATE TABLE pin (
    crew_id uuid PRIMARY KEY REFERENCES crew,
    hash    text NOT NULL,
    at      timestamptz NOT NULL DEFAULT now()
);
GRANT SELECT, INSERT, UPDATE, DELETE ON passphrase, pin TO windrift_app;

-- A device that somebody signed in on. What it holds is kept hashed; an ended one stays for the list.
CREATE TABLE session (
    id         uuid PRIMARY KEY,
    token_hash bytea NOT NULL UNIQUE,
    floor      boolean NOT NULL,
    device     text NOT NULL,
    at         timestamptz NOT NULL DEFAULT now(),
    seen       timestamptz NOT NULL DEFAULT now(),
    expires    timestamptz NOT NULL,
    ended      timestamptz
);
GRANT SELECT, INSERT ON session TO windrift_app;
GRANT UPDATE (seen, expires, ended) ON session TO windrift_app;

-- Who showed on a device that they are themselves.
CREATE TABLE session_crew (
    session_id uuid NOT NULL REFERENCES session,
    crew_id    uuid NOT NULL REFERENCES crew,
    at         timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (session_id, crew_id)
);
GRANT SELECT, INSERT, DELETE ON session_crew TO windrift_app;

-- Every try, written before it is looked at, so that many at once are counted too. Let go after a day.
CREATE TABLE guess (
    id      uuid PRIMARY KEY,
    name    text NOT NULL,
    address text NOT NULL,
    at      timestamptz NOT NULL DEFAULT now(),
    was_right boolean NOT NULL DEFAULT false
);
CREATE INDEX guess_of_name ON guess (name, at);
CREATE INDEX guess_of_address ON guess (address, at);
GRANT SELECT, INSERT, DELETE ON guess TO windrift_app;
GRANT UPDATE (was_right) ON guess TO windrift_app;

-- What concerns who may come in: only added to.
CREATE TABLE audit (
    n       bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    at      timestamptz NOT NULL DEFAULT now(),
    kind    text NOT NULL,
    crew_id uuid REFERENCES crew,
    about   text NOT NULL,
    address text NOT NULL
);
CREATE FUNCTION audit_stays() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'the audit list is never rewritten';
END $$;
CREATE TRIGGER audit_keeps_rows BEFORE UPDATE OR DELETE ON audit FOR EACH ROW EXECUTE FUNCTION audit_stays();
CREATE TRIGGER audit_keeps_all BEFORE TRUNCATE ON audit FOR EACH STATEMENT EXECUTE FUNCTION audit_stays();
GRANT SELECT, INSERT ON audit TO windrift_app;
