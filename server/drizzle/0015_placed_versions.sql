ALTER TABLE "placements" ADD COLUMN "version_id" uuid;--> statement-breakpoint
ALTER TABLE "placements" ADD COLUMN "version_at" timestamp with time zone;--> statement-breakpoint
UPDATE placements p SET version_id = v.id, version_at = v.created_at
FROM items i JOIN versions v ON v.id = i.current_version_id WHERE i.id = p.item_id;
--> statement-breakpoint
-- Whoever gives the item another version meanwhile waits, and then finds the placement.
CREATE FUNCTION placement_version() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  SELECT current_version_id INTO NEW.version_id FROM items WHERE id = NEW.item_id FOR SHARE;
  NEW.version_at := (SELECT created_at FROM versions WHERE id = NEW.version_id);
  RETURN NEW;
END $$;
--> statement-breakpoint
CREATE TRIGGER placements_version_set BEFORE INSERT OR UPDATE OF item_id, version_id, version_at ON placements
FOR EACH ROW EXECUTE FUNCTION placement_version();
--> statement-breakpoint
CREATE FUNCTION item_version() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE placements SET version_id = NEW.current_version_id WHERE item_id = NEW.id;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER items_version_kept AFTER UPDATE OF current_version_id ON items
FOR EACH ROW WHEN (OLD.current_version_id IS DISTINCT FROM NEW.current_version_id) EXECUTE FUNCTION item_version();
--> statement-breakpoint
CREATE FUNCTION version_dated() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE placements SET version_at = NEW.created_at WHERE item_id = NEW.item_id AND version_id = NEW.id;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER versions_dated AFTER UPDATE OF created_at ON versions
FOR EACH ROW EXECUTE FUNCTION version_dated();
