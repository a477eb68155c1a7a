ALTER TABLE "people" ADD COLUMN "deactivated_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "schools" ADD COLUMN "language" text;--> statement-breakpoint
CREATE INDEX "people_listed" ON "people" USING btree ("school_id","name" collate natural_order,"id");--> statement-breakpoint
-- Which rows are concerned is found out once: with an `or` in a join, thousands of handings out were each held against all placements.
CREATE OR REPLACE FUNCTION live_targets() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  rows_there jsonb := '[]';
  folder_ids uuid[];
  item_ids uuid[];
  placement_ids uuid[];
BEGIN
  IF TG_OP <> 'DELETE' THEN
    SELECT coalesce(jsonb_agg(to_jsonb(a)), '[]') INTO rows_there FROM after_rows a;
  END IF;
  IF TG_OP <> 'INSERT' THEN
    SELECT rows_there || coalesce(jsonb_agg(to_jsonb(b)), '[]') INTO rows_there FROM before_rows b;
  END IF;
  SELECT array_agg(DISTINCT (r ->> 'folder_id')::uuid), array_agg(DISTINCT (r ->> 'item_id')::uuid), array_agg(DISTINCT (r ->> 'placement_id')::uuid)
    INTO folder_ids, item_ids, placement_ids FROM jsonb_array_elements(rows_there) r;
  PERFORM live_folders('below', folder_ids);
  PERFORM live_folders('folder', array(
    SELECT folder_id FROM placements WHERE item_id = ANY (item_ids)
    UNION SELECT folder_id FROM placements WHERE id = ANY (placement_ids)));
  IF TG_TABLE_NAME = 'doors' AND TG_OP = 'UPDATE' THEN
    PERFORM pg_notify('live', 'door ' || (r ->> 'school_id') || ' ' || (r ->> 'id')) FROM jsonb_array_elements(rows_there) r;
  END IF;
  RETURN NULL;
END $$;
--> statement-breakpoint
-- As before, but for how the grants of places are found: by their folders. Where PostgreSQL has not counted them yet it would rather read
-- all of those of the school, by the index that has nothing else, once for each place. `coalesce` keeps it from that index.
CREATE OR REPLACE FUNCTION apply_places(of_boxes uuid[], of_people uuid[]) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
  UPDATE grants g SET (from_at, until_at, taken_back_at) = (
    CASE WHEN g.level = 'add' THEN w.from_at END, CASE WHEN g.level = 'add' THEN w.until_at END,
    coalesce(w.removed_at, CASE WHEN g.level = 'add' AND NOT w.member THEN coalesce(g.taken_back_at, now()) END))
  FROM (
    SELECT p.folder_id, b.removed_at, s.member, s.from_at, s.until_at
    FROM places p JOIN boxes b ON b.id = p.box_id JOIN classes c ON c.id = b.class_id
      CROSS JOIN LATERAL member_span(b.class_id, p.person_id, NULL, takes_until(b, c)) s
    WHERE p.box_id = ANY (of_boxes) AND (of_people IS NULL OR p.person_id = ANY (of_people))) w
  WHERE g.folder_id = w.folder_id AND coalesce(g.of_place, false)
    AND (g.from_at, g.until_at, g.taken_back_at) IS DISTINCT FROM (
      CASE WHEN g.level = 'add' THEN w.from_at END, CASE WHEN g.level = 'add' THEN w.until_at END,
      coalesce(w.removed_at, CASE WHEN g.level = 'add' AND NOT w.member THEN coalesce(g.taken_back_at, now()) END));
  -- Those who have no place yet. They come last: what is made here is right as it is.
  WITH missing AS MATERIALIZED (
    SELECT b.id AS box_id, b.school_id, b.class_id, b.title, b.created_by, m.person_id, s.from_at, s.until_at, gen_random_uuid() AS folder_id
    FROM boxes b JOIN classes c ON c.id = b.class_id CROSS JOIN LATERAL (
        SELECT DISTINCT person_id FROM memberships
        WHERE class_id = b.class_id AND (until_at IS NULL OR until_at > b.created_at)
          AND (of_people IS NULL OR person_id = ANY (of_people))) m
      CROSS JOIN LATERAL member_span(b.class_id, m.person_id, NULL, takes_until(b, c)) s
    WHERE b.id = ANY (of_boxes) AND b.closed_at IS NULL AND b.removed_at IS NULL
      AND m.person_id <> ALL (array(
        SELECT p.person_id FROM places p WHERE p.box_id = b.id AND (of_people IS NULL OR p.person_id = ANY (of_people))))),
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
