-- What an entry hands out to some members of a class is theirs for as long as they belong to it: from the first day of their
-- membership to the last, within what the entry says. A span that would be empty ends where the membership does.
CREATE FUNCTION member_span(class uuid, person uuid, first_at timestamptz, last_at timestamptz, OUT member boolean, OUT from_at timestamptz, OUT until_at timestamptz)
LANGUAGE sql STABLE AS $$
  SELECT s.member, CASE WHEN s.from_at < s.until_at OR s.until_at IS NULL THEN s.from_at END, s.until_at FROM (
    SELECT count(*) > 0 AS member,
      greatest(first_at, CASE WHEN NOT bool_or(m.from_at IS NULL) THEN min(m.from_at) END) AS from_at,
      least(last_at, CASE WHEN NOT bool_or(m.until_at IS NULL) THEN max(m.until_at) END) AS until_at
    FROM memberships m WHERE m.class_id = class AND m.person_id = person) s
$$;
--> statement-breakpoint
CREATE FUNCTION members_of_appearances() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  class uuid := coalesce(NEW.class_id, OLD.class_id);
  person uuid := coalesce(NEW.person_id, OLD.person_id);
BEGIN
  UPDATE grants g SET from_at = s.from_at, until_at = s.until_at,
    taken_back_at = CASE WHEN NOT s.member THEN now() END, taken_back_by = CASE WHEN NOT s.member THEN g.created_by END
  FROM appearances a CROSS JOIN LATERAL member_span(a.class_id, person, a.from_at, a.until_at) s
  WHERE g.appearance_id = a.id AND a.class_id = class AND a.for_some AND g.person_id = person AND g.taken_back_at IS NULL;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER memberships_of_appearances AFTER INSERT OR UPDATE OR DELETE ON memberships
FOR EACH ROW EXECUTE FUNCTION members_of_appearances();
