CREATE TABLE "box_copies" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"box_id" uuid NOT NULL,
	"item_id" uuid,
	"pattern" text NOT NULL,
	"created_by" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"taken_back_at" timestamp with time zone,
	CONSTRAINT "box_copies_pattern" CHECK (length("box_copies"."pattern") between 1 and 100)
);
--> statement-breakpoint
ALTER TABLE "box_copies" ADD CONSTRAINT "box_copies_school_id_box_id_boxes_school_id_id_fk" FOREIGN KEY ("school_id","box_id") REFERENCES "public"."boxes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "box_copies" ADD CONSTRAINT "box_copies_school_id_created_by_people_school_id_id_fk" FOREIGN KEY ("school_id","created_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "box_copies" ADD CONSTRAINT "box_copies_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "box_copies_once" ON "box_copies" USING btree ("box_id","item_id") WHERE "box_copies"."taken_back_at" is null;--> statement-breakpoint
CREATE INDEX "box_copies_item_id_index" ON "box_copies" USING btree ("item_id");--> statement-breakpoint

-- Gives each student what they do not have yet: an item of their own on the same content, which they did not put there themselves.
CREATE FUNCTION give_copies(of_boxes uuid[], of_people uuid[]) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  r record;
  title text;
  n int;
  copy_id uuid;
  copy_version uuid;
BEGIN
  IF NOT EXISTS (SELECT FROM box_copies WHERE box_id = ANY (of_boxes) AND taken_back_at IS NULL) THEN
    RETURN;
  END IF;
  FOR r IN
    SELECT c.pattern, c.created_by, c.school_id, l.folder_id, l.person_id, i.id AS item_id, i.kind, i.title, i.extension, i.description,
      v.id AS version_id, v.hash, v.size, v.media_type, v.original_name,
      regexp_replace(s.name, '[\\/:*?"<>|]', '', 'g') AS student, k.code
    FROM box_copies c JOIN boxes b ON b.id = c.box_id JOIN classes k ON k.id = b.class_id JOIN places l ON l.box_id = b.id
      JOIN people s ON s.id = l.person_id JOIN items i ON i.id = c.item_id JOIN versions v ON v.id = i.current_version_id
    WHERE b.id = ANY (of_boxes) AND (of_people IS NULL OR l.person_id = ANY (of_people)) AND c.taken_back_at IS NULL
      AND b.closed_at IS NULL AND b.removed_at IS NULL AND NOT EXISTS (
        SELECT FROM placements p JOIN items o ON o.id = p.item_id WHERE p.folder_id = l.folder_id AND o.copy_of_item_id = i.id)
    ORDER BY c.created_at, c.id
  LOOP
    r.pattern := left(replace(replace(replace(r.pattern, '{title}', r.title), '{student}', r.student), '{class}', r.code),
      115 - length(r.extension));
    title := r.pattern;
    n := 1;
    WHILE EXISTS (SELECT FROM placements p WHERE p.folder_id = r.folder_id AND p.binned_at IS NULL
        AND p.name_key = item_name_key(title, r.extension)) LOOP
      n := n + 1;
      title := r.pattern || ' ' || n;
    END LOOP;
    INSERT INTO items (school_id, owner_id, kind, title, extension, description, copy_of_item_id, copy_of_version_id)
      VALUES (r.school_id, r.person_id, r.kind, title, r.extension, r.description, r.item_id, r.version_id) RETURNING id INTO copy_id;
    INSERT INTO versions (school_id, item_id, number, hash, size, media_type, original_name, created_by)
      VALUES (r.school_id, copy_id, 1, r.hash, r.size, r.media_type, r.original_name, r.created_by) RETURNING id INTO copy_version;
    UPDATE items SET current_version_id = copy_version WHERE id = copy_id;
    INSERT INTO page_pictures (school_id, item_id, hash, size, media_type)
      SELECT w.school_id, copy_id, w.hash, w.size, w.media_type FROM version_pictures x
        JOIN page_pictures w ON w.item_id = x.item_id AND w.hash = x.hash WHERE x.version_id = r.version_id;
    INSERT INTO version_pictures (school_id, version_id, item_id, hash)
      SELECT school_id, copy_version, copy_id, hash FROM version_pictures WHERE version_id = r.version_id;
    INSERT INTO placements (school_id, folder_id, item_id, added_by, position)
      VALUES (r.school_id, r.folder_id, copy_id, r.created_by,
        (SELECT coalesce(max(position), 0) + 1 FROM placements WHERE folder_id = r.folder_id));
  END LOOP;
END $$;
--> statement-breakpoint
CREATE FUNCTION copies_of_boxes() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM give_copies(array(SELECT DISTINCT box_id FROM after_rows), NULL);
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER copies_insert AFTER INSERT ON box_copies REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION copies_of_boxes();
--> statement-breakpoint
CREATE FUNCTION copies_of_places() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM give_copies(array(SELECT DISTINCT box_id FROM after_rows), array(SELECT DISTINCT person_id FROM after_rows));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER copies_insert AFTER INSERT ON places REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION copies_of_places();
