ALTER TYPE "public"."roster_audience" ADD VALUE 'teachers';--> statement-breakpoint
CREATE TABLE "boxes" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"class_id" uuid NOT NULL,
	"title" text NOT NULL,
	"text" text DEFAULT '' NOT NULL,
	"ends_at" timestamp with time zone,
	"takes_late" boolean DEFAULT true NOT NULL,
	"created_by" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"closed_at" timestamp with time zone,
	"removed_at" timestamp with time zone,
	CONSTRAINT "boxes_schoolId_id_unique" UNIQUE("school_id","id"),
	CONSTRAINT "boxes_title" CHECK (length("boxes"."title") between 1 and 60),
	CONSTRAINT "boxes_text" CHECK (length("boxes"."text") <= 5000)
);
--> statement-breakpoint
CREATE TABLE "places" (
	"folder_id" uuid PRIMARY KEY NOT NULL,
	"school_id" uuid NOT NULL,
	"box_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "places_once" UNIQUE("box_id","person_id")
);
--> statement-breakpoint
DROP VIEW "public"."handings_out";--> statement-breakpoint
ALTER TABLE "grants" DROP CONSTRAINT "grants_audience";--> statement-breakpoint
ALTER TABLE "grants" DROP CONSTRAINT "grants_level";--> statement-breakpoint
DROP INDEX "grants_folder_once";--> statement-breakpoint
ALTER TABLE "folders" ALTER COLUMN "owner_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "grants" ADD COLUMN "taught_class_id" uuid;--> statement-breakpoint
ALTER TABLE "grants" drop column "audience_id";--> statement-breakpoint
ALTER TABLE "grants" ADD COLUMN "audience_id" uuid GENERATED ALWAYS AS (coalesce(person_id, class_id, course_id, taught_class_id, school_id)) STORED NOT NULL;--> statement-breakpoint
ALTER TABLE "folders" ADD COLUMN "in_place" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "grants" ADD COLUMN "of_place" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "boxes" ADD CONSTRAINT "boxes_school_id_class_id_classes_school_id_id_fk" FOREIGN KEY ("school_id","class_id") REFERENCES "public"."classes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "boxes" ADD CONSTRAINT "boxes_school_id_created_by_people_school_id_id_fk" FOREIGN KEY ("school_id","created_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "places" ADD CONSTRAINT "places_school_id_folder_id_folders_school_id_id_fk" FOREIGN KEY ("school_id","folder_id") REFERENCES "public"."folders"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "places" ADD CONSTRAINT "places_school_id_box_id_boxes_school_id_id_fk" FOREIGN KEY ("school_id","box_id") REFERENCES "public"."boxes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "places" ADD CONSTRAINT "places_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "boxes_class_id_index" ON "boxes" USING btree ("class_id");--> statement-breakpoint
CREATE INDEX "places_person_id_index" ON "places" USING btree ("person_id");--> statement-breakpoint
ALTER TABLE "grants" ADD CONSTRAINT "grants_school_id_taught_class_id_classes_school_id_id_fk" FOREIGN KEY ("school_id","taught_class_id") REFERENCES "public"."classes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "grants_place_once" ON "grants" USING btree ("folder_id","audience_kind","level") WHERE "grants"."of_place";--> statement-breakpoint
CREATE UNIQUE INDEX "grants_folder_once" ON "grants" USING btree ("folder_id","audience_kind","audience_id") WHERE "grants"."taken_back_at" is null and "grants"."appearance_id" is null and not "grants"."of_place";--> statement-breakpoint
CREATE UNIQUE INDEX "grants_item_once" ON "grants" USING btree ("item_id","audience_kind","audience_id") WHERE "grants"."taken_back_at" is null and "grants"."appearance_id" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "grants_appearance_once" ON "grants" USING btree ("appearance_id",coalesce("folder_id", "item_id"),"audience_id") WHERE "grants"."taken_back_at" is null and "grants"."appearance_id" is not null;--> statement-breakpoint
CREATE INDEX "grants_audience_index" ON "grants" USING btree ("audience_id");--> statement-breakpoint
ALTER TABLE "folders" ADD CONSTRAINT "folders_owner" CHECK (("folders"."owner_id" is null) = "folders"."in_place");--> statement-breakpoint
ALTER TABLE "folders" ADD CONSTRAINT "folders_in_place" CHECK (not "folders"."in_place" or num_nonnulls("folders"."year_id", "folders"."from_at", "folders"."until_at") = 0 and not "folders"."held");--> statement-breakpoint
ALTER TABLE "grants" ADD CONSTRAINT "grants_of_place" CHECK ("grants"."of_place" or "grants"."audience_kind"::text <> 'teachers');--> statement-breakpoint
ALTER TABLE "grants" ADD CONSTRAINT "grants_audience" CHECK (("grants"."audience_kind" = 'person') = ("grants"."person_id" is not null)
        and ("grants"."audience_kind" = 'class') = ("grants"."class_id" is not null)
        and ("grants"."audience_kind"::text = 'teachers') = ("grants"."taught_class_id" is not null)
        and ("grants"."audience_kind" = 'course') = ("grants"."course_id" is not null));--> statement-breakpoint
ALTER TABLE "grants" ADD CONSTRAINT "grants_level" CHECK ("grants"."level" = 'view' or ("grants"."audience_kind"::text in ('person', 'staff', 'teachers') and "grants"."folder_id" is not null));--> statement-breakpoint
CREATE VIEW "public"."handings_out" AS (
  select id, school_id, folder_id, item_id, audience_kind::text as audience_kind, audience_id, level, from_at, until_at, created_at, appearance_id, of_place
  from grants where taken_back_at is null
  union all
  select id, school_id, folder_id, item_id, 'door', id, 'view'::level, from_at, until_at, created_at, null::uuid, false
  from doors where closed_at is null and class_id is null);
--> statement-breakpoint

-- What is in a place is in nobody's library: changes in it wait for each other by the place.
CREATE OR REPLACE FUNCTION folder_path() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  above uuid[] := '{}';
  inside boolean;
BEGIN
  IF TG_OP = 'UPDATE' THEN
    PERFORM pg_advisory_xact_lock(hashtextextended('folders of ' || coalesce(NEW.owner_id, NEW.path[1]), 0));
  END IF;
  IF NEW.parent_id IS NOT NULL THEN
    SELECT path, in_place INTO above, inside FROM folders WHERE id = NEW.parent_id FOR SHARE;
    NEW.in_place := coalesce(inside, NEW.in_place);
    IF NEW.id = ANY (above) THEN
      RAISE EXCEPTION 'folder % would lie in itself', NEW.id USING ERRCODE = 'check_violation', CONSTRAINT = 'folders_no_knot';
    END IF;
  END IF;
  NEW.path := above || NEW.id;
  RETURN NEW;
END $$;
--> statement-breakpoint

-- Nothing that is in a place is handed out, by nobody and in no way, and it is nowhere else: so no rule can open it.
CREATE FUNCTION is_in_place(folder uuid, item uuid) RETURNS boolean LANGUAGE sql STABLE AS $$
  SELECT EXISTS (SELECT FROM folders f WHERE f.id = folder AND f.in_place)
    OR EXISTS (SELECT FROM placements p JOIN folders f ON f.id = p.folder_id WHERE p.item_id = item AND p.binned_at IS NULL AND f.in_place)
$$;
--> statement-breakpoint
CREATE FUNCTION grants_not_in_place() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF is_in_place(NEW.folder_id, NEW.item_id) THEN
    RAISE EXCEPTION 'what is in a place stays there' USING ERRCODE = 'check_violation', CONSTRAINT = 'places_are_private';
  END IF;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER not_in_place AFTER INSERT OR UPDATE ON grants
  FOR EACH ROW WHEN (NEW.taken_back_at IS NULL AND NOT NEW.of_place) EXECUTE FUNCTION grants_not_in_place();
--> statement-breakpoint
CREATE TRIGGER not_in_place AFTER INSERT OR UPDATE ON doors
  FOR EACH ROW WHEN (NEW.closed_at IS NULL AND NEW.class_id IS NULL) EXECUTE FUNCTION grants_not_in_place();
--> statement-breakpoint
CREATE FUNCTION things_not_in_place() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF is_in_place(coalesce(NEW.folder_id, (SELECT folder_id FROM placements WHERE id = NEW.placement_id)), NULL) THEN
    RAISE EXCEPTION 'what is in a place stays there' USING ERRCODE = 'check_violation', CONSTRAINT = 'places_are_private';
  END IF;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER not_in_place AFTER INSERT OR UPDATE ON class_releases FOR EACH ROW EXECUTE FUNCTION things_not_in_place();
--> statement-breakpoint
CREATE TRIGGER not_in_place AFTER INSERT OR UPDATE ON entry_things FOR EACH ROW EXECUTE FUNCTION things_not_in_place();
--> statement-breakpoint
CREATE FUNCTION placements_in_place() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  place uuid;
BEGIN
  SELECT path[1] INTO place FROM folders WHERE id = NEW.folder_id AND in_place;
  -- Of an item that comes into a place all others wait.
  IF place IS NOT NULL THEN
    PERFORM FROM items WHERE id = NEW.item_id FOR UPDATE;
  END IF;
  IF (place IS NOT NULL AND (NEW.held OR NEW.released OR NEW.from_at IS NOT NULL OR NEW.until_at IS NOT NULL
      OR EXISTS (SELECT FROM grants g WHERE g.item_id = NEW.item_id AND g.taken_back_at IS NULL)
      OR EXISTS (SELECT FROM doors d WHERE d.item_id = NEW.item_id AND d.closed_at IS NULL)
      OR EXISTS (SELECT FROM entry_things e WHERE e.placement_id = NEW.id)))
    OR EXISTS (SELECT FROM placements p JOIN folders f ON f.id = p.folder_id
      WHERE p.item_id = NEW.item_id AND p.id <> NEW.id AND p.binned_at IS NULL
        AND (place IS NOT NULL OR f.in_place) AND f.path[1] IS DISTINCT FROM place) THEN
    RAISE EXCEPTION 'what is in a place stays there' USING ERRCODE = 'check_violation', CONSTRAINT = 'places_are_private';
  END IF;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER in_place AFTER INSERT OR UPDATE OF folder_id, item_id, binned_at, held, released, from_at, until_at ON placements
  FOR EACH ROW WHEN (NEW.binned_at IS NULL) EXECUTE FUNCTION placements_in_place();
--> statement-breakpoint
-- A folder that comes into a place, with what is in it.
CREATE FUNCTION folders_into_place() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF EXISTS (SELECT FROM grants WHERE folder_id = NEW.id AND taken_back_at IS NULL AND NOT of_place)
    OR EXISTS (SELECT FROM doors WHERE folder_id = NEW.id AND closed_at IS NULL)
    OR EXISTS (SELECT FROM class_releases WHERE folder_id = NEW.id)
    OR EXISTS (SELECT FROM entry_things WHERE folder_id = NEW.id)
    OR EXISTS (SELECT FROM placements p WHERE p.folder_id = NEW.id AND p.binned_at IS NULL AND (
      p.held OR p.released OR p.from_at IS NOT NULL OR p.until_at IS NOT NULL
      OR EXISTS (SELECT FROM grants g WHERE g.item_id = p.item_id AND g.taken_back_at IS NULL)
      OR EXISTS (SELECT FROM doors d WHERE d.item_id = p.item_id AND d.closed_at IS NULL)
      OR EXISTS (SELECT FROM entry_things e WHERE e.placement_id = p.id)
      OR EXISTS (SELECT FROM placements q JOIN folders f ON f.id = q.folder_id
        WHERE q.item_id = p.item_id AND q.id <> p.id AND q.binned_at IS NULL AND f.path[1] <> NEW.path[1]))) THEN
    RAISE EXCEPTION 'what is in a place stays there' USING ERRCODE = 'check_violation', CONSTRAINT = 'places_are_private';
  END IF;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE CONSTRAINT TRIGGER into_place AFTER INSERT OR UPDATE ON folders
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW WHEN (NEW.in_place) EXECUTE FUNCTION folders_into_place();
--> statement-breakpoint

-- Until when a box of a class takes something.
CREATE FUNCTION takes_until(b boxes, c classes) RETURNS timestamptz LANGUAGE sql STABLE AS $$
  SELECT least(b.closed_at, c.removed_at, (SELECT closed_at FROM years WHERE id = c.year_id), CASE WHEN NOT b.takes_late THEN b.ends_at END)
$$;
--> statement-breakpoint
-- Every member of the class of a box has a place in it, also who joins later. In it the student may add for as long as they
-- belong to the class and the box takes something; those who teach the class manage it. Whoever leaves reads on.
CREATE FUNCTION apply_places(of_boxes uuid[], of_people uuid[]) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
  UPDATE grants g SET from_at = w.from_at, until_at = w.until_at, taken_back_at = w.taken_back_at
  FROM (
    SELECT g.id, CASE WHEN g.level = 'add' THEN s.from_at END AS from_at, CASE WHEN g.level = 'add' THEN s.until_at END AS until_at,
      coalesce(b.removed_at, CASE WHEN g.level = 'add' AND NOT s.member THEN coalesce(g.taken_back_at, now()) END) AS taken_back_at
    FROM places p JOIN boxes b ON b.id = p.box_id JOIN classes c ON c.id = b.class_id
      JOIN grants g ON g.folder_id = p.folder_id AND g.of_place
      CROSS JOIN LATERAL member_span(b.class_id, p.person_id, NULL, takes_until(b, c)) s
    WHERE b.id = ANY (of_boxes) AND (of_people IS NULL OR p.person_id = ANY (of_people))) w
  WHERE g.id = w.id AND (g.from_at, g.until_at, g.taken_back_at) IS DISTINCT FROM (w.from_at, w.until_at, w.taken_back_at);
  -- Those who have no place yet. They come last: what is made here is right as it is.
  WITH missing AS MATERIALIZED (
    SELECT b.id AS box_id, b.school_id, b.class_id, b.title, b.created_by, m.person_id, s.from_at, s.until_at, gen_random_uuid() AS folder_id
    FROM boxes b JOIN classes c ON c.id = b.class_id CROSS JOIN LATERAL (
        SELECT DISTINCT person_id FROM memberships
        WHERE class_id = b.class_id AND (until_at IS NULL OR until_at > b.created_at)
          AND (of_people IS NULL OR person_id = ANY (of_people))) m
      CROSS JOIN LATERAL member_span(b.class_id, m.person_id, NULL, takes_until(b, c)) s
    WHERE b.id = ANY (of_boxes) AND b.closed_at IS NULL AND b.removed_at IS NULL
      AND NOT EXISTS (SELECT FROM places p WHERE p.box_id = b.id AND p.person_id = m.person_id)),
  made AS (
    INSERT INTO folders (id, school_id, in_place, title, created_by)
    SELECT folder_id, school_id, true, title, created_by FROM missing),
  placed AS (
    INSERT INTO places (folder_id, school_id, box_id, person_id) SELECT folder_id, school_id, box_id, person_id FROM missing)
  INSERT INTO grants (school_id, folder_id, audience_kind, person_id, taught_class_id, level, from_at, until_at, created_by, of_place)
  SELECT school_id, folder_id, kind::roster_audience, CASE kind WHEN 'person' THEN person_id END,
    CASE kind WHEN 'teachers' THEN class_id END, level::level, CASE level WHEN 'add' THEN from_at END,
    CASE level WHEN 'add' THEN until_at END, created_by, true
  FROM missing, (VALUES ('person', 'view'), ('person', 'add'), ('teachers', 'manage')) v (kind, level);
END $$;
--> statement-breakpoint
CREATE FUNCTION places_of_boxes() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE folders f SET title = b.title FROM after_rows b JOIN places p ON p.box_id = b.id
    WHERE f.id = p.folder_id AND f.title <> b.title;
  PERFORM apply_places(array(SELECT id FROM after_rows), NULL);
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER places_insert AFTER INSERT ON boxes REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION places_of_boxes();
--> statement-breakpoint
CREATE TRIGGER places_update AFTER UPDATE ON boxes REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION places_of_boxes();
--> statement-breakpoint
CREATE FUNCTION places_of_members() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM apply_places(
    array(SELECT b.id FROM boxes b WHERE b.class_id IN (SELECT class_id FROM changed_rows)),
    array(SELECT DISTINCT person_id FROM changed_rows));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER places_insert AFTER INSERT ON memberships REFERENCING NEW TABLE AS changed_rows FOR EACH STATEMENT EXECUTE FUNCTION places_of_members();
--> statement-breakpoint
CREATE TRIGGER places_update AFTER UPDATE ON memberships REFERENCING NEW TABLE AS changed_rows FOR EACH STATEMENT EXECUTE FUNCTION places_of_members();
--> statement-breakpoint
CREATE TRIGGER places_delete AFTER DELETE ON memberships REFERENCING OLD TABLE AS changed_rows FOR EACH STATEMENT EXECUTE FUNCTION places_of_members();
--> statement-breakpoint
CREATE FUNCTION places_of_classes() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM apply_places(array(SELECT id FROM boxes WHERE class_id = NEW.id), NULL);
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER places_update AFTER UPDATE ON classes
  FOR EACH ROW WHEN (OLD.removed_at IS DISTINCT FROM NEW.removed_at) EXECUTE FUNCTION places_of_classes();
--> statement-breakpoint
CREATE FUNCTION places_of_years() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM apply_places(array(SELECT b.id FROM boxes b JOIN classes c ON c.id = b.class_id WHERE c.year_id = NEW.id), NULL);
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER places_update AFTER UPDATE ON years
  FOR EACH ROW WHEN (OLD.closed_at IS DISTINCT FROM NEW.closed_at) EXECUTE FUNCTION places_of_years();
