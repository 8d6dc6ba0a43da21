-- A device reads the air of a bay, or film behind the heat.
ALTER TABLE device ADD COLUMN reads text NOT NULL DEFAULT 'air' CHECK (reads IN ('air', 'heat'));

-- What thermometers read behind the heat, as it came: only added to. A job's readings follow from the marks in its record; a job that came from another Windrift
-- brings readings of devices that are not here. `seq` says what was there when a run was closed.
CREATE SEQUENCE heat_reading_seq;
CREATE TABLE heat_reading (
    device_id uuid NOT NULL,
    at        timestamptz NOT NULL,
    seq       bigint NOT NULL DEFAULT nextval('heat_reading_seq'),
    celsius   double precision NOT NULL,
    believed  boolean NOT NULL,
    PRIMARY KEY (device_id, at)
);
GRANT SELECT, INSERT ON heat_reading TO windrift_app;
GRANT USAGE ON SEQUENCE heat_reading_seq TO windrift_app;
CREATE TRIGGER heat_reading_keeps_rows BEFORE UPDATE OR DELETE ON heat_reading
    FOR EACH ROW EXECUTE FUNCTION record_is_append_only();
CREATE TRIGGER heat_reading_keeps_all BEFORE TRUNCATE ON heat_reading
    FOR EACH STATEMENT EXECUTE FUNCTION record_is_append_only();
