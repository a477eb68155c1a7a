-- What the table definitions cannot say: the newest version is one of the item's own, folders form trees, names are kept.

ALTER TABLE items ADD CONSTRAINT items_current_version FOREIGN KEY (id, current_version_id) REFERENCES versions (item_id, id);
--> statement-breakpoint
ALTER TABLE items ADD CONSTRAINT items_copy_of_version FOREIGN KEY (copy_of_item_id, copy_of_version_id) REFERENCES versions (item_id, id);
--> statement-breakpoint

-- At the end of a transaction every file has content.
CREATE FUNCTION file_has_content() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF EXISTS (SELECT FROM items WHERE id = NEW.id AND kind = 'file' AND current_version_id IS NULL) THEN
    RAISE EXCEPTION 'file % has no version', NEW.id USING ERRCODE = 'check_violation', CONSTRAINT = 'items_have_content';
  END IF;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE CONSTRAINT TRIGGER items_have_content AFTER INSERT OR UPDATE ON items
  DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION file_has_content();
--> statement-breakpoint

-- The path follows the parent. Moves within one library wait for each other, so that two people cannot tie a knot.
CREATE FUNCTION folder_path() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  above uuid[] := '{}';
BEGIN
  IF TG_OP = 'UPDATE' THEN
    PERFORM pg_advisory_xact_lock(hashtextextended('folders of ' || NEW.owner_id, 0));
  END IF;
  IF NEW.parent_id IS NOT NULL THEN
    SELECT path INTO above FROM folders WHERE id = NEW.parent_id FOR SHARE;
    IF NEW.id = ANY (above) THEN
      RAISE EXCEPTION 'folder % would lie in itself', NEW.id USING ERRCODE = 'check_violation', CONSTRAINT = 'folders_no_knot';
    END IF;
  END IF;
  NEW.path := above || NEW.id;
  RETURN NEW;
END $$;
--> statement-breakpoint
CREATE TRIGGER folders_path_set BEFORE INSERT OR UPDATE OF parent_id ON folders
  FOR EACH ROW EXECUTE FUNCTION folder_path();
--> statement-breakpoint
CREATE FUNCTION folder_path_below() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE folders SET path = NEW.path || path[cardinality(OLD.path) + 1:]
    WHERE path @> ARRAY[NEW.id] AND id <> NEW.id;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER folders_path_spread AFTER UPDATE OF parent_id ON folders
  FOR EACH ROW WHEN (OLD.path IS DISTINCT FROM NEW.path) EXECUTE FUNCTION folder_path_below();
--> statement-breakpoint

-- A placement carries the comparable name of its item, so that one index keeps siblings apart.
CREATE FUNCTION item_name_key(title text, extension text) RETURNS text LANGUAGE sql IMMUTABLE AS $$
  SELECT lower(normalize(title || CASE WHEN extension = '' THEN '' ELSE '.' || extension END, NFC) COLLATE "und-x-icu")
$$;
--> statement-breakpoint
CREATE FUNCTION placement_name() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  SELECT item_name_key(title, extension) INTO NEW.name_key FROM items WHERE id = NEW.item_id;
  RETURN NEW;
END $$;
--> statement-breakpoint
CREATE TRIGGER placements_name_set BEFORE INSERT OR UPDATE OF item_id, name_key ON placements
  FOR EACH ROW EXECUTE FUNCTION placement_name();
--> statement-breakpoint
CREATE FUNCTION item_renamed() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE placements SET name_key = item_name_key(NEW.title, NEW.extension) WHERE item_id = NEW.id;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER items_name_spread AFTER UPDATE OF title, extension ON items
  FOR EACH ROW WHEN (OLD.title <> NEW.title OR OLD.extension <> NEW.extension) EXECUTE FUNCTION item_renamed();
--> statement-breakpoint

-- The order of people: 2 before 10, letters without regard to case.
CREATE COLLATION natural_order (provider = icu, locale = 'und-u-kn-true');
