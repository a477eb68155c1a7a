DROP INDEX "placements_newest";--> statement-breakpoint
ALTER TABLE "placements" ADD COLUMN "came_at" timestamp with time zone GENERATED ALWAYS AS (greatest(added_at, version_at)) STORED;--> statement-breakpoint
ALTER TABLE "placements" ADD COLUMN "released" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "placements" ADD COLUMN "plain" boolean GENERATED ALWAYS AS (not (held or released or from_at is not null or until_at is not null or binned_at is not null)) STORED NOT NULL;--> statement-breakpoint
ALTER TABLE "placements" ADD COLUMN "several" boolean DEFAULT true NOT NULL;--> statement-breakpoint
CREATE INDEX "placements_came" ON "placements" USING btree ("folder_id","came_at" DESC NULLS FIRST,"id","item_id","version_id","several") WHERE "placements"."plain";--> statement-breakpoint
CREATE INDEX "placements_special" ON "placements" USING btree ("folder_id") WHERE not "placements"."plain";--> statement-breakpoint
CREATE INDEX "placements_several" ON "placements" USING btree ("folder_id") WHERE "placements"."plain" and "placements"."several";--> statement-breakpoint
UPDATE placements p SET released = true WHERE EXISTS (SELECT FROM class_releases r WHERE r.placement_id = p.id);
--> statement-breakpoint
UPDATE placements p SET several = false
WHERE NOT EXISTS (SELECT FROM placements o WHERE o.item_id = p.item_id AND o.id <> p.id)
  AND NOT EXISTS (SELECT FROM grants g WHERE g.item_id = p.item_id);
--> statement-breakpoint
-- Neither is ever taken back: that would have to know that nobody else is about to say so again.
CREATE FUNCTION placement_released() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE placements SET released = true WHERE id = NEW.placement_id AND NOT released;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER placements_released_kept AFTER INSERT OR UPDATE OF placement_id ON class_releases
FOR EACH ROW WHEN (NEW.placement_id IS NOT NULL) EXECUTE FUNCTION placement_released();
--> statement-breakpoint
CREATE FUNCTION placement_several() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE placements SET several = true WHERE item_id = NEW.item_id AND id <> NEW.id AND NOT several;
  NEW.several := EXISTS (SELECT FROM placements WHERE item_id = NEW.item_id AND id <> NEW.id)
    OR EXISTS (SELECT FROM grants WHERE item_id = NEW.item_id);
  RETURN NEW;
END $$;
--> statement-breakpoint
CREATE TRIGGER placements_several_set BEFORE INSERT OR UPDATE OF item_id ON placements
FOR EACH ROW EXECUTE FUNCTION placement_several();
--> statement-breakpoint
CREATE FUNCTION item_handed_out() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE placements SET several = true WHERE item_id = NEW.item_id AND NOT several;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER placements_several_kept AFTER INSERT OR UPDATE OF item_id ON grants
FOR EACH ROW WHEN (NEW.item_id IS NOT NULL) EXECUTE FUNCTION item_handed_out();
