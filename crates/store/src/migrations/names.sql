-- The plate, registration or fleet number of a vehicle: it is found by it, as it is written and without its spaces and strokes.
ALTER TABLE job ADD COLUMN plate text;
CREATE OR REPLACE FUNCTION words_of_job(wanted uuid) RETURNS text LANGUAGE sql STABLE AS $$
    SELECT concat_ws(' ', j.title, j.customer, j.vehicle_kind, to_char(j.created_at, 'YYYY'), j.plate,
        regexp_replace(j.plate, '[^[:alnum:]]', '', 'g'),
        (SELECT string_agg(p.spec->'art'->>'text', ' ') FROM side s JOIN piece p ON p.parent_id = s.id WHERE s.parent_id = j.id))
    FROM job j WHERE j.id = wanted
$$;
