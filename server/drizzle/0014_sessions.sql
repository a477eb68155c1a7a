-- Processes remember who sent a request; on the channel `sessions` they hear the person, or the school, of whom it may be no longer true.
CREATE FUNCTION forget_session() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM pg_notify('sessions', OLD.user_id::text);
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER forget AFTER UPDATE OR DELETE ON sessions FOR EACH ROW EXECUTE FUNCTION forget_session();
--> statement-breakpoint
CREATE FUNCTION forget_sessions_of() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM pg_notify('sessions', OLD.id::text);
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER forget AFTER UPDATE OR DELETE ON people FOR EACH ROW EXECUTE FUNCTION forget_sessions_of();
--> statement-breakpoint
CREATE TRIGGER forget AFTER UPDATE OR DELETE ON schools FOR EACH ROW EXECUTE FUNCTION forget_sessions_of();
