CREATE TYPE "public"."log_act" AS ENUM('handed-out', 'terms', 'taken-back', 'opened', 'door', 'closed', 'release', 'joined', 'days', 'left', 'teaches', 'teaches-no-more', 'added', 'role', 'deactivated', 'reactivated', 'address', 'password', 'second-step', 'second-step-off', 'year-closed', 'year-opened', 'sign-in');--> statement-breakpoint
CREATE TABLE "log" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "log_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"school_id" uuid NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"by_id" uuid,
	"act" "log_act" NOT NULL,
	"folder_id" uuid,
	"item_id" uuid,
	"title" text DEFAULT '' NOT NULL,
	"owner_id" uuid,
	"audience" text,
	"person_id" uuid,
	"class_id" uuid,
	"course_id" uuid,
	"details" jsonb DEFAULT '{}'::jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "log" ADD CONSTRAINT "log_school_id_by_id_people_school_id_id_fk" FOREIGN KEY ("school_id","by_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "log" ADD CONSTRAINT "log_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "log" ADD CONSTRAINT "log_school_id_class_id_classes_school_id_id_fk" FOREIGN KEY ("school_id","class_id") REFERENCES "public"."classes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "log" ADD CONSTRAINT "log_school_id_course_id_courses_school_id_id_fk" FOREIGN KEY ("school_id","course_id") REFERENCES "public"."courses"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "log_school_id_at_id_index" ON "log" USING btree ("school_id","at","id");--> statement-breakpoint
CREATE INDEX "log_folder_id_index" ON "log" USING btree ("folder_id");--> statement-breakpoint
CREATE INDEX "log_item_id_index" ON "log" USING btree ("item_id");--> statement-breakpoint
CREATE INDEX "log_owner_id_index" ON "log" USING btree ("owner_id");--> statement-breakpoint
CREATE INDEX "log_class_id_index" ON "log" USING btree ("class_id");--> statement-breakpoint
CREATE INDEX "log_course_id_index" ON "log" USING btree ("course_id");--> statement-breakpoint
CREATE INDEX "log_by_id_index" ON "log" USING btree ("by_id");--> statement-breakpoint
CREATE INDEX "log_person_id_index" ON "log" USING btree ("person_id");--> statement-breakpoint

-- Who changes something in this transaction, and when, where whoever does it has said so (`changesBy`).
CREATE FUNCTION log_by(noted uuid) RETURNS uuid LANGUAGE plpgsql STABLE AS $$
BEGIN
  RETURN coalesce(nullif(current_setting('sammlung.by', true), '')::uuid, noted);
END $$;
--> statement-breakpoint
CREATE FUNCTION log_at(noted timestamptz) RETURNS timestamptz LANGUAGE plpgsql STABLE AS $$
BEGIN
  RETURN coalesce(noted, nullif(current_setting('sammlung.at', true), '')::timestamptz, now());
END $$;
--> statement-breakpoint
-- A school that is removed whole takes its log along.
CREATE FUNCTION log_rests() RETURNS boolean LANGUAGE plpgsql STABLE AS $$
BEGIN
  RETURN coalesce(current_setting('sammlung.unlogged', true), '') <> '';
END $$;
--> statement-breakpoint
-- A span with a level as the log has it: instants as the API writes them.
CREATE FUNCTION log_instant(t timestamptz) RETURNS text LANGUAGE plpgsql STABLE AS $$
BEGIN
  RETURN to_char(t AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"');
END $$;
--> statement-breakpoint
CREATE FUNCTION log_grants() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'INSERT' THEN
    INSERT INTO log (school_id, at, by_id, act, folder_id, item_id, title, owner_id, audience, person_id, class_id, course_id, details)
    SELECT g.school_id, log_at(g.created_at), log_by(g.created_by), 'handed-out', g.folder_id, g.item_id, coalesce(f.title, i.title),
      coalesce(f.owner_id, i.owner_id), g.audience_kind::text, g.person_id, g.class_id, g.course_id,
      jsonb_build_object('level', g.level, 'from', log_instant(g.from_at), 'until', log_instant(g.until_at))
    FROM after_rows g LEFT JOIN folders f ON f.id = g.folder_id LEFT JOIN items i ON i.id = g.item_id
    WHERE NOT g.of_place AND g.taken_back_at IS NULL;
  ELSE
    INSERT INTO log (school_id, at, by_id, act, folder_id, item_id, title, owner_id, audience, person_id, class_id, course_id, details)
    SELECT g.school_id, log_at(g.taken_back_at), log_by(g.taken_back_by),
      (CASE WHEN g.taken_back_at IS NOT NULL THEN 'taken-back' WHEN b.taken_back_at IS NOT NULL THEN 'handed-out' ELSE 'terms' END)::log_act,
      g.folder_id, g.item_id, coalesce(f.title, i.title), coalesce(f.owner_id, i.owner_id), g.audience_kind::text, g.person_id,
      g.class_id, g.course_id, jsonb_build_object('level', g.level, 'from', log_instant(g.from_at), 'until', log_instant(g.until_at),
        'was', jsonb_build_object('level', b.level, 'from', log_instant(b.from_at), 'until', log_instant(b.until_at)))
    FROM after_rows g JOIN before_rows b ON b.id = g.id LEFT JOIN folders f ON f.id = g.folder_id LEFT JOIN items i ON i.id = g.item_id
    WHERE NOT g.of_place AND (g.taken_back_at IS NULL OR b.taken_back_at IS NULL)
      AND (g.level, g.from_at, g.until_at, g.taken_back_at IS NULL) IS DISTINCT FROM (b.level, b.from_at, b.until_at, b.taken_back_at IS NULL);
  END IF;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER log_insert AFTER INSERT ON grants REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION log_grants();
--> statement-breakpoint
CREATE TRIGGER log_update AFTER UPDATE ON grants REFERENCING OLD TABLE AS before_rows NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION log_grants();
--> statement-breakpoint
CREATE FUNCTION log_doors() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  done log_act := CASE WHEN TG_OP = 'INSERT' THEN 'opened' WHEN NEW.closed_at IS NOT NULL THEN 'closed' WHEN OLD.closed_at IS NOT NULL THEN 'opened' ELSE 'door' END;
BEGIN
  INSERT INTO log (school_id, at, by_id, act, folder_id, item_id, title, owner_id, audience, class_id, course_id, details)
  SELECT NEW.school_id, CASE WHEN TG_OP = 'INSERT' THEN log_at(NEW.created_at) ELSE log_at(NEW.closed_at) END,
    log_by(CASE WHEN TG_OP = 'INSERT' THEN NEW.created_by END), done, NEW.folder_id, NEW.item_id, coalesce(f.title, i.title, ''),
    coalesce(f.owner_id, i.owner_id), CASE NEW.kind WHEN 'public' THEN 'public' ELSE 'link' END, NEW.class_id, c.course_id,
    jsonb_build_object('until', log_instant(NEW.until_at), 'word', NEW.word_hash IS NOT NULL, 'listed', NEW.listed)
  FROM (VALUES (1)) one LEFT JOIN folders f ON f.id = NEW.folder_id LEFT JOIN items i ON i.id = NEW.item_id LEFT JOIN classes c ON c.id = NEW.class_id;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER log_insert AFTER INSERT ON doors FOR EACH ROW EXECUTE FUNCTION log_doors();
--> statement-breakpoint
CREATE TRIGGER log_update AFTER UPDATE ON doors FOR EACH ROW
WHEN ((OLD.closed_at IS NULL, OLD.until_at, OLD.from_at, OLD.word_hash, OLD.listed, OLD.token, OLD.short_address, OLD.kind)
  IS DISTINCT FROM (NEW.closed_at IS NULL, NEW.until_at, NEW.from_at, NEW.word_hash, NEW.listed, NEW.token, NEW.short_address, NEW.kind))
EXECUTE FUNCTION log_doors();
--> statement-breakpoint
CREATE FUNCTION log_folder_release() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO log (school_id, at, by_id, act, folder_id, title, owner_id, details)
  VALUES (NEW.school_id, log_at(NULL), log_by(NULL), 'release', NEW.id, NEW.title, NEW.owner_id,
    jsonb_build_object('held', NEW.held, 'from', log_instant(NEW.from_at), 'until', log_instant(NEW.until_at)));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER log_release AFTER UPDATE OF held, from_at, until_at ON folders FOR EACH ROW
WHEN ((OLD.held, OLD.from_at, OLD.until_at) IS DISTINCT FROM (NEW.held, NEW.from_at, NEW.until_at)) EXECUTE FUNCTION log_folder_release();
--> statement-breakpoint
CREATE FUNCTION log_placement_release() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO log (school_id, at, by_id, act, item_id, title, owner_id, details)
  SELECT NEW.school_id, log_at(NULL), log_by(NULL), 'release', i.id, i.title, i.owner_id,
    jsonb_build_object('held', NEW.held, 'from', log_instant(NEW.from_at), 'until', log_instant(NEW.until_at))
  FROM items i WHERE i.id = NEW.item_id;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER log_release AFTER UPDATE OF held, from_at, until_at ON placements FOR EACH ROW
WHEN ((OLD.held, OLD.from_at, OLD.until_at) IS DISTINCT FROM (NEW.held, NEW.from_at, NEW.until_at)) EXECUTE FUNCTION log_placement_release();
--> statement-breakpoint
CREATE FUNCTION log_class_releases() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  r class_releases := CASE WHEN TG_OP = 'DELETE' THEN OLD ELSE NEW END;
BEGIN
  IF log_rests() THEN RETURN NULL; END IF;
  INSERT INTO log (school_id, at, by_id, act, folder_id, item_id, title, owner_id, audience, class_id, details)
  SELECT r.school_id, log_at(NULL), log_by(NULL), 'release', f.id, i.id, coalesce(f.title, i.title, ''), coalesce(f.owner_id, i.owner_id), 'class', r.class_id,
    CASE WHEN TG_OP = 'DELETE' THEN jsonb_build_object('general', true)
      ELSE jsonb_build_object('held', r.held, 'from', log_instant(r.from_at), 'until', log_instant(r.until_at)) END
  FROM (VALUES (1)) one LEFT JOIN folders f ON f.id = r.folder_id LEFT JOIN placements p ON p.id = r.placement_id LEFT JOIN items i ON i.id = p.item_id
  WHERE coalesce(f.id, i.id) IS NOT NULL;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER log_change AFTER INSERT OR DELETE ON class_releases FOR EACH ROW EXECUTE FUNCTION log_class_releases();
--> statement-breakpoint
CREATE TRIGGER log_update AFTER UPDATE ON class_releases FOR EACH ROW
WHEN ((OLD.held, OLD.from_at, OLD.until_at) IS DISTINCT FROM (NEW.held, NEW.from_at, NEW.until_at)) EXECUTE FUNCTION log_class_releases();
--> statement-breakpoint
CREATE FUNCTION log_memberships() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'INSERT' THEN
    INSERT INTO log (school_id, at, by_id, act, audience, person_id, class_id, course_id, details)
    SELECT m.school_id, log_at(NULL), log_by(m.added_by), 'joined', 'class', m.person_id, m.class_id, c.course_id,
      jsonb_build_object('from', log_instant(m.from_at), 'until', log_instant(m.until_at))
    FROM after_rows m JOIN classes c ON c.id = m.class_id;
  ELSIF TG_OP = 'UPDATE' THEN
    INSERT INTO log (school_id, at, by_id, act, audience, person_id, class_id, course_id, details)
    SELECT m.school_id, log_at(NULL), log_by(m.ended_by), (CASE WHEN b.until_at IS NULL AND m.until_at IS NOT NULL THEN 'left' ELSE 'days' END)::log_act,
      'class', m.person_id, m.class_id, c.course_id, jsonb_build_object('from', log_instant(m.from_at), 'until', log_instant(m.until_at))
    FROM after_rows m JOIN before_rows b ON b.id = m.id JOIN classes c ON c.id = m.class_id
    WHERE (m.from_at, m.until_at) IS DISTINCT FROM (b.from_at, b.until_at);
  ELSIF NOT log_rests() THEN
    INSERT INTO log (school_id, at, by_id, act, audience, person_id, class_id, course_id)
    SELECT m.school_id, log_at(NULL), log_by(NULL), 'left', 'class', m.person_id, m.class_id, c.course_id
    FROM before_rows m JOIN classes c ON c.id = m.class_id;
  END IF;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER log_insert AFTER INSERT ON memberships REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION log_memberships();
--> statement-breakpoint
CREATE TRIGGER log_update AFTER UPDATE ON memberships REFERENCING OLD TABLE AS before_rows NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION log_memberships();
--> statement-breakpoint
CREATE TRIGGER log_delete AFTER DELETE ON memberships REFERENCING OLD TABLE AS before_rows FOR EACH STATEMENT EXECUTE FUNCTION log_memberships();
--> statement-breakpoint
CREATE FUNCTION log_teachers() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  r course_teachers := CASE WHEN TG_OP = 'DELETE' THEN OLD ELSE NEW END;
BEGIN
  IF log_rests() THEN RETURN NULL; END IF;
  INSERT INTO log (school_id, at, by_id, act, audience, person_id, course_id)
  VALUES (r.school_id, log_at(NULL), log_by(NULL), (CASE WHEN TG_OP = 'DELETE' THEN 'teaches-no-more' ELSE 'teaches' END)::log_act, 'course', r.person_id, r.course_id);
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER log_change AFTER INSERT OR DELETE ON course_teachers FOR EACH ROW EXECUTE FUNCTION log_teachers();
--> statement-breakpoint
CREATE FUNCTION log_people() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'INSERT' THEN
    INSERT INTO log (school_id, at, by_id, act, audience, person_id, details)
    SELECT school_id, log_at(NULL), log_by(made_by), 'added', 'person', id, jsonb_build_object('role', kind) FROM after_rows;
    RETURN NULL;
  END IF;
  INSERT INTO log (school_id, at, by_id, act, audience, person_id, details)
  SELECT NEW.school_id, log_at(NULL), log_by(NULL), x.act::log_act, 'person', NEW.id,
    CASE x.act WHEN 'role' THEN jsonb_build_object('role', NEW.kind, 'was', jsonb_build_object('role', OLD.kind)) ELSE '{}' END
  FROM (VALUES
    ('role', NEW.kind <> OLD.kind),
    ('deactivated', OLD.deactivated_at IS NULL AND NEW.deactivated_at IS NOT NULL),
    ('reactivated', OLD.deactivated_at IS NOT NULL AND NEW.deactivated_at IS NULL),
    ('address', OLD.email IS DISTINCT FROM NEW.email),
    ('second-step', NOT OLD.two_factor_enabled AND NEW.two_factor_enabled),
    ('second-step-off', OLD.two_factor_enabled AND NOT NEW.two_factor_enabled)) x (act, so)
  WHERE x.so;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER log_insert AFTER INSERT ON people REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION log_people();
--> statement-breakpoint
CREATE TRIGGER log_update AFTER UPDATE ON people FOR EACH ROW
WHEN ((OLD.kind, OLD.deactivated_at IS NULL, OLD.email, OLD.two_factor_enabled) IS DISTINCT FROM (NEW.kind, NEW.deactivated_at IS NULL, NEW.email, NEW.two_factor_enabled))
EXECUTE FUNCTION log_people();
--> statement-breakpoint
CREATE FUNCTION log_passwords() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO log (school_id, at, by_id, act, audience, person_id)
  SELECT p.school_id, log_at(NULL), log_by(NULL), (CASE NEW.provider_id WHEN 'start' THEN 'password' ELSE 'sign-in' END)::log_act, 'person', p.id
  FROM people p WHERE p.id = NEW.user_id;
  RETURN NULL;
END $$;
--> statement-breakpoint
-- What is printed for somebody, and by which account outside they come in; their own passwords are nobody else's doing.
CREATE TRIGGER log_slip AFTER INSERT OR UPDATE OF password ON credentials FOR EACH ROW
WHEN (NEW.provider_id = 'school' OR (NEW.provider_id = 'start' AND NEW.password IS NOT NULL)) EXECUTE FUNCTION log_passwords();
--> statement-breakpoint
CREATE FUNCTION log_sign_in() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO log (school_id, at, by_id, act) VALUES (NEW.id, log_at(NULL), log_by(NULL), 'sign-in');
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER log_update AFTER UPDATE OF sign_in_domains ON schools FOR EACH ROW
WHEN (OLD.sign_in_domains IS DISTINCT FROM NEW.sign_in_domains) EXECUTE FUNCTION log_sign_in();
--> statement-breakpoint
CREATE FUNCTION log_years() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO log (school_id, at, by_id, act, title)
  VALUES (NEW.school_id, log_at(NEW.closed_at), log_by(NULL), (CASE WHEN NEW.closed_at IS NULL THEN 'year-opened' ELSE 'year-closed' END)::log_act, NEW.label);
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER log_update AFTER UPDATE OF closed_at ON years FOR EACH ROW
WHEN ((OLD.closed_at IS NULL) <> (NEW.closed_at IS NULL)) EXECUTE FUNCTION log_years();
