-- What the floor stages ask of all jobs at once: what is wet in a bay, and what old film took in jobs before.
CREATE INDEX record_of_bays ON record (at) WHERE kind = 'bay';
CREATE INDEX record_of_old_film ON record (at) WHERE kind = 'strip';

-- Sensors in the bays. A key is shown once and kept hashed; a withdrawn device stays, so that its readings say whose they are.
CREATE TABLE device (
    id        uuid PRIMARY KEY,
    bay       text NOT NULL,
    name      text NOT NULL,
    key_hash  bytea NOT NULL UNIQUE,
    at        timestamptz NOT NULL DEFAULT now(),
    crew_id   uuid NOT NULL REFERENCES crew,
    withdrawn boolean NOT NULL DEFAULT false
);
GRANT SELECT, INSERT ON device TO windrift_app;
GRANT UPDATE (withdrawn) ON device TO windrift_app;

-- What they read: air, °C and percent, and where the sensor has a probe on the panel, that, °C. Thinned when it is written.
CREATE TABLE device_reading (
    device_id uuid NOT NULL REFERENCES device,
    at        timestamptz NOT NULL,
    received  timestamptz NOT NULL DEFAULT now(),
    celsius   double precision NOT NULL,
    humidity  double precision NOT NULL,
    surface   double precision,
    PRIMARY KEY (device_id, at)
);
GRANT SELECT, INSERT, DELETE ON device_reading TO windrift_app;
