CREATE TABLE "announced" (
	"id" text PRIMARY KEY NOT NULL,
	"school_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"size" bigint NOT NULL,
	"received" bigint DEFAULT 0 NOT NULL,
	"touched_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "opening_counts" (
	"school_id" uuid NOT NULL,
	"placement_id" uuid NOT NULL,
	"version_id" uuid,
	"kind" "opening_kind" NOT NULL,
	"visitors" boolean NOT NULL,
	"count" integer NOT NULL,
	CONSTRAINT "opening_counts_once" UNIQUE NULLS NOT DISTINCT("placement_id","version_id","kind","visitors")
);
--> statement-breakpoint
ALTER TABLE "announced" ADD CONSTRAINT "announced_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "opening_counts" ADD CONSTRAINT "opening_counts_school_id_placement_id_placements_school_id_id_fk" FOREIGN KEY ("school_id","placement_id") REFERENCES "public"."placements"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "opening_counts" ADD CONSTRAINT "opening_counts_school_id_version_id_versions_school_id_id_fk" FOREIGN KEY ("school_id","version_id") REFERENCES "public"."versions"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "announced_person_id_index" ON "announced" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "opening_counts_version_id_index" ON "opening_counts" USING btree ("version_id");--> statement-breakpoint
CREATE INDEX "folders_parent_id_index" ON "folders" USING btree ("parent_id");--> statement-breakpoint
CREATE INDEX "uploads_folder_id_index" ON "uploads" USING btree ("folder_id");--> statement-breakpoint
CREATE INDEX "uploads_placement_id_index" ON "uploads" USING btree ("placement_id");--> statement-breakpoint
CREATE INDEX "uploads_version_id_index" ON "uploads" USING btree ("version_id");--> statement-breakpoint
CREATE INDEX "grants_folder_id_index" ON "grants" USING btree ("folder_id");--> statement-breakpoint
CREATE INDEX "grants_item_id_index" ON "grants" USING btree ("item_id");--> statement-breakpoint
CREATE INDEX "notes_grant_id_index" ON "notes" USING btree ("grant_id");--> statement-breakpoint
CREATE INDEX "openings_version_id_index" ON "openings" USING btree ("version_id");--> statement-breakpoint
CREATE INDEX "openings_at_index" ON "openings" USING btree ("at");--> statement-breakpoint
CREATE INDEX "openings_door_id_index" ON "openings" USING btree ("door_id") WHERE "openings"."door_id" is not null;--> statement-breakpoint
-- Instants and days are of 1900 to 2199 from now on: what lies beyond never begins, or never ends.
UPDATE "folders" SET
  "from_at" = CASE WHEN "from_at" < '1900-01-01Z' THEN NULL WHEN "from_at" >= '2200-01-01Z' THEN '2199-12-31Z' ELSE "from_at" END,
  "until_at" = CASE WHEN "until_at" < '1900-01-01Z' THEN '1900-01-01Z' WHEN "until_at" >= '2200-01-01Z' THEN NULL ELSE "until_at" END
WHERE "from_at" < '1900-01-01Z' OR "from_at" >= '2200-01-01Z' OR "until_at" < '1900-01-01Z' OR "until_at" >= '2200-01-01Z';--> statement-breakpoint
UPDATE "placements" SET
  "from_at" = CASE WHEN "from_at" < '1900-01-01Z' THEN NULL WHEN "from_at" >= '2200-01-01Z' THEN '2199-12-31Z' ELSE "from_at" END,
  "until_at" = CASE WHEN "until_at" < '1900-01-01Z' THEN '1900-01-01Z' WHEN "until_at" >= '2200-01-01Z' THEN NULL ELSE "until_at" END
WHERE "from_at" < '1900-01-01Z' OR "from_at" >= '2200-01-01Z' OR "until_at" < '1900-01-01Z' OR "until_at" >= '2200-01-01Z';--> statement-breakpoint
UPDATE "class_releases" SET
  "from_at" = CASE WHEN "from_at" < '1900-01-01Z' THEN NULL WHEN "from_at" >= '2200-01-01Z' THEN '2199-12-31Z' ELSE "from_at" END,
  "until_at" = CASE WHEN "until_at" < '1900-01-01Z' THEN '1900-01-01Z' WHEN "until_at" >= '2200-01-01Z' THEN NULL ELSE "until_at" END
WHERE "from_at" < '1900-01-01Z' OR "from_at" >= '2200-01-01Z' OR "until_at" < '1900-01-01Z' OR "until_at" >= '2200-01-01Z';--> statement-breakpoint
UPDATE "grants" SET
  "from_at" = CASE WHEN "from_at" < '1900-01-01Z' THEN NULL WHEN "from_at" >= '2200-01-01Z' THEN '2199-12-31Z' ELSE "from_at" END,
  "until_at" = CASE WHEN "until_at" < '1900-01-01Z' THEN '1900-01-01Z' WHEN "until_at" >= '2200-01-01Z' THEN NULL ELSE "until_at" END
WHERE "from_at" < '1900-01-01Z' OR "from_at" >= '2200-01-01Z' OR "until_at" < '1900-01-01Z' OR "until_at" >= '2200-01-01Z';--> statement-breakpoint
UPDATE "doors" SET
  "from_at" = CASE WHEN "from_at" < '1900-01-01Z' THEN NULL WHEN "from_at" >= '2200-01-01Z' THEN '2199-12-31Z' ELSE "from_at" END,
  "until_at" = CASE WHEN "until_at" < '1900-01-01Z' THEN '1900-01-01Z' WHEN "until_at" >= '2200-01-01Z' THEN NULL ELSE "until_at" END
WHERE "from_at" < '1900-01-01Z' OR "from_at" >= '2200-01-01Z' OR "until_at" < '1900-01-01Z' OR "until_at" >= '2200-01-01Z';--> statement-breakpoint
UPDATE "memberships" SET
  "from_at" = CASE WHEN "from_at" < '1900-01-01Z' THEN NULL WHEN "from_at" >= '2200-01-01Z' THEN '2199-12-31Z' ELSE "from_at" END,
  "until_at" = CASE WHEN "until_at" < '1900-01-01Z' THEN '1900-01-01Z' WHEN "until_at" >= '2200-01-01Z' THEN NULL ELSE "until_at" END
WHERE "from_at" < '1900-01-01Z' OR "from_at" >= '2200-01-01Z' OR "until_at" < '1900-01-01Z' OR "until_at" >= '2200-01-01Z';--> statement-breakpoint
UPDATE "items" SET "lesson_date" = NULL WHERE "lesson_date" < '1900-01-01' OR "lesson_date" >= '2200-01-01';
