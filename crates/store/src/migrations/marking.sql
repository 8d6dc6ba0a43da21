-- Reflective marking: the vehicle as the rules see it, once for each job; what is settled about each side, once for each side.
CREATE TABLE marked_vehicle (
    id        uuid PRIMARY KEY,
    parent_id uuid NOT NULL UNIQUE REFERENCES job,
    revision  integer NOT NULL DEFAULT 1,
    spec      jsonb NOT NULL
);

CREATE TABLE marking (
    id        uuid PRIMARY KEY,
    parent_id uuid NOT NULL UNIQUE REFERENCES side,
    revision  integer NOT NULL DEFAULT 1,
    spec      jsonb NOT NULL
);

ALTER TABLE edit DROP CONSTRAINT edit_kind_check;
ALTER TABLE edit ADD CONSTRAINT edit_kind_check CHECK (kind IN ('side', 'feature', 'piece', 'marked_vehicle', 'marking'));

-- Figures that the shop uses in place of those recalled. What is recalled stays in the code.
CREATE TABLE figure_correction (
    rule_set text NOT NULL,
    key      text NOT NULL,
    value    double precision NOT NULL,
    at       timestamptz NOT NULL DEFAULT now(),
    crew_id  uuid NOT NULL REFERENCES crew,
    PRIMARY KEY (rule_set, key)
);

-- Reflective tape on the shelf. Never changed: what was laid out with it must stay as it was.
CREATE TABLE tape (
    id      uuid PRIMARY KEY,
    name    text NOT NULL,
    at      timestamptz NOT NULL DEFAULT now(),
    crew_id uuid NOT NULL REFERENCES crew,
    spec    jsonb NOT NULL,
    -- No longer on the shelf.
    retired boolean NOT NULL DEFAULT false
);

GRANT SELECT, INSERT, UPDATE, DELETE ON marked_vehicle, marking, figure_correction TO windrift_app;
GRANT SELECT, INSERT ON tape TO windrift_app;
GRANT UPDATE (retired) ON tape TO windrift_app;
