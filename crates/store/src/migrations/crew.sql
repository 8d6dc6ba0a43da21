-- People are renamed and given another part under Crew. Who did what is kept by key, so the record stays whole.
GRANT UPDATE (name, role) ON crew TO windrift_app;
