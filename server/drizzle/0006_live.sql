ALTER TYPE "public"."opening_kind" ADD VALUE 'marked';--> statement-breakpoint
CREATE INDEX "memberships_from" ON "memberships" USING btree ("from_at") WHERE "memberships"."from_at" is not null;--> statement-breakpoint
CREATE INDEX "memberships_until" ON "memberships" USING btree ("until_at") WHERE "memberships"."until_at" is not null;--> statement-breakpoint
CREATE INDEX "folders_from" ON "folders" USING btree ("from_at") WHERE "folders"."from_at" is not null;--> statement-breakpoint
CREATE INDEX "folders_until" ON "folders" USING btree ("until_at") WHERE "folders"."until_at" is not null;--> statement-breakpoint
CREATE INDEX "placements_from" ON "placements" USING btree ("from_at") WHERE "placements"."from_at" is not null;--> statement-breakpoint
CREATE INDEX "placements_until" ON "placements" USING btree ("until_at") WHERE "placements"."until_at" is not null;--> statement-breakpoint
CREATE INDEX "class_releases_from" ON "class_releases" USING btree ("from_at") WHERE "class_releases"."from_at" is not null;--> statement-breakpoint
CREATE INDEX "class_releases_until" ON "class_releases" USING btree ("until_at") WHERE "class_releases"."until_at" is not null;--> statement-breakpoint
CREATE INDEX "doors_from" ON "doors" USING btree ("from_at") WHERE "doors"."from_at" is not null;--> statement-breakpoint
CREATE INDEX "doors_until" ON "doors" USING btree ("until_at") WHERE "doors"."until_at" is not null;--> statement-breakpoint
CREATE INDEX "grants_from" ON "grants" USING btree ("from_at") WHERE "grants"."from_at" is not null;--> statement-breakpoint
CREATE INDEX "grants_until" ON "grants" USING btree ("until_at") WHERE "grants"."until_at" is not null;--> statement-breakpoint

-- What open pages are told by. `folder`: the list of what lies in it has changed; `below`: that, and who sees what in it
-- and in all below; `door`, `person`, `school`: what they see may have changed. Each is heard on the channel `live`.
CREATE FUNCTION live(school uuid, what text, ids uuid[]) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
  IF cardinality(ids) > 50 THEN
    PERFORM pg_notify('live', 'school ' || school || ' ' || school);
  ELSE
    PERFORM pg_notify('live', what || ' ' || school || ' ' || id) FROM unnest(ids) id;
  END IF;
END $$;
--> statement-breakpoint
CREATE FUNCTION live_folders(what text, folder_ids uuid[]) RETURNS void LANGUAGE sql AS $$
  SELECT live(school_id, what, array_agg(id)) FROM folders WHERE id = ANY (folder_ids) GROUP BY school_id
$$;
--> statement-breakpoint
CREATE FUNCTION live_placements() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP <> 'DELETE' THEN
    PERFORM live_folders('folder', array(SELECT DISTINCT folder_id FROM after_rows));
  END IF;
  IF TG_OP <> 'INSERT' THEN
    PERFORM live_folders('folder', array(SELECT DISTINCT folder_id FROM before_rows));
  END IF;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER live_insert AFTER INSERT ON placements REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_placements();
--> statement-breakpoint
CREATE TRIGGER live_update AFTER UPDATE ON placements REFERENCING OLD TABLE AS before_rows NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_placements();
--> statement-breakpoint
CREATE TRIGGER live_delete AFTER DELETE ON placements REFERENCING OLD TABLE AS before_rows FOR EACH STATEMENT EXECUTE FUNCTION live_placements();
--> statement-breakpoint
CREATE FUNCTION live_items() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM live_folders('folder', array(SELECT DISTINCT p.folder_id FROM after_rows i JOIN placements p ON p.item_id = i.id));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER live_update AFTER UPDATE ON items REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_items();
--> statement-breakpoint
CREATE FUNCTION live_previews() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM live_folders('folder', array(
    SELECT DISTINCT p.folder_id FROM after_rows w JOIN versions v ON v.school_id = w.school_id AND v.hash = w.hash
      JOIN items i ON i.current_version_id = v.id JOIN placements p ON p.item_id = i.id));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER live_update AFTER UPDATE ON previews REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_previews();
--> statement-breakpoint
CREATE FUNCTION live_tree() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'INSERT' THEN
    PERFORM live_folders('folder', array(SELECT DISTINCT parent_id FROM after_rows WHERE parent_id IS NOT NULL));
    RETURN NULL;
  END IF;
  -- A folder that was moved changes the paths of all below it; those say nothing of their own.
  PERFORM live_folders('below', array(
    SELECT a.id FROM after_rows a JOIN before_rows b ON b.id = a.id
    WHERE (to_jsonb(a) - 'path' - 'created_at') IS DISTINCT FROM (to_jsonb(b) - 'path' - 'created_at')));
  PERFORM live_folders('folder', array(
    SELECT DISTINCT b.parent_id FROM after_rows a JOIN before_rows b ON b.id = a.id
    WHERE a.parent_id IS DISTINCT FROM b.parent_id AND b.parent_id IS NOT NULL));
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER live_insert AFTER INSERT ON folders REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_tree();
--> statement-breakpoint
CREATE TRIGGER live_update AFTER UPDATE ON folders REFERENCING OLD TABLE AS before_rows NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_tree();
--> statement-breakpoint

-- Rows of handings out, doors and releases by class, before and after.
CREATE FUNCTION live_targets() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  rows_there jsonb := '[]';
BEGIN
  IF TG_OP <> 'DELETE' THEN
    SELECT coalesce(jsonb_agg(to_jsonb(a)), '[]') INTO rows_there FROM after_rows a;
  END IF;
  IF TG_OP <> 'INSERT' THEN
    SELECT rows_there || coalesce(jsonb_agg(to_jsonb(b)), '[]') INTO rows_there FROM before_rows b;
  END IF;
  PERFORM live_folders('below', array(
    SELECT DISTINCT (r ->> 'folder_id')::uuid FROM jsonb_array_elements(rows_there) r WHERE r ->> 'folder_id' IS NOT NULL));
  PERFORM live_folders('folder', array(
    SELECT DISTINCT p.folder_id FROM jsonb_array_elements(rows_there) r JOIN placements p
      ON p.item_id = (r ->> 'item_id')::uuid OR p.id = (r ->> 'placement_id')::uuid));
  IF TG_TABLE_NAME = 'doors' AND TG_OP = 'UPDATE' THEN
    PERFORM pg_notify('live', 'door ' || (r ->> 'school_id') || ' ' || (r ->> 'id')) FROM jsonb_array_elements(rows_there) r;
  END IF;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER live_insert AFTER INSERT ON grants REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_targets();
--> statement-breakpoint
CREATE TRIGGER live_update AFTER UPDATE ON grants REFERENCING OLD TABLE AS before_rows NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_targets();
--> statement-breakpoint
CREATE TRIGGER live_insert AFTER INSERT ON doors REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_targets();
--> statement-breakpoint
CREATE TRIGGER live_update AFTER UPDATE ON doors REFERENCING OLD TABLE AS before_rows NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_targets();
--> statement-breakpoint
CREATE TRIGGER live_insert AFTER INSERT ON class_releases REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_targets();
--> statement-breakpoint
CREATE TRIGGER live_update AFTER UPDATE ON class_releases REFERENCING OLD TABLE AS before_rows NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_targets();
--> statement-breakpoint
CREATE TRIGGER live_delete AFTER DELETE ON class_releases REFERENCING OLD TABLE AS before_rows FOR EACH STATEMENT EXECUTE FUNCTION live_targets();
--> statement-breakpoint
CREATE FUNCTION live_memberships() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP <> 'DELETE' THEN
    PERFORM live(school_id, 'person', array_agg(DISTINCT person_id)) FROM after_rows GROUP BY school_id;
  END IF;
  IF TG_OP <> 'INSERT' THEN
    PERFORM live(school_id, 'person', array_agg(DISTINCT person_id)) FROM before_rows GROUP BY school_id;
  END IF;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER live_insert AFTER INSERT ON memberships REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_memberships();
--> statement-breakpoint
CREATE TRIGGER live_update AFTER UPDATE ON memberships REFERENCING OLD TABLE AS before_rows NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_memberships();
--> statement-breakpoint
CREATE TRIGGER live_delete AFTER DELETE ON memberships REFERENCING OLD TABLE AS before_rows FOR EACH STATEMENT EXECUTE FUNCTION live_memberships();
--> statement-breakpoint

-- Closing a year, taking away a class or a course, another time zone: rare, and everybody's.
CREATE FUNCTION live_school() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM pg_notify('live', 'school ' || school_id || ' ' || school_id) FROM (SELECT DISTINCT school_id FROM after_rows) a;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER live_update AFTER UPDATE ON years REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_school();
--> statement-breakpoint
CREATE TRIGGER live_update AFTER UPDATE ON courses REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_school();
--> statement-breakpoint
CREATE TRIGGER live_update AFTER UPDATE ON classes REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_school();
