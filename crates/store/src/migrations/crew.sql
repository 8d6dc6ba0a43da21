-- People are renamed and given another part under Crew, one by one: the application may not touch the table otherwise. Who did what is kept
-- by key, so the record stays whole.
CREATE FUNCTION change_crew(member uuid, new_name text, new_role text) RETURNS boolean LANGUAGE plpgsql SECURITY DEFINER
    SET search_path = public, pg_temp AS $$
BEGIN
    UPDATE crew SET name = new_name, role = new_role WHERE id = member;
    RETURN FOUND;
END $$;
REVOKE ALL ON FUNCTION change_crew(uuid, text, text) FROM PUBLIC;
GRANT EXECUTE ON FUNCTION change_crew(uuid, text, text) TO windrift_app;
