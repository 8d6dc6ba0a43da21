-- Print art as it was given, beside the picture that is shown of it. Never changed.
CREATE TABLE print_art (
    photo_id uuid PRIMARY KEY REFERENCES photo,
    -- 'jpeg', 'png', 'pdf' or 'svg'
    kind     text NOT NULL CHECK (kind IN ('jpeg', 'png', 'pdf', 'svg')),
    bytes    bytea NOT NULL
);
GRANT SELECT, INSERT ON print_art TO windrift_app;
