CREATE TABLE "appearance_people" (
	"school_id" uuid NOT NULL,
	"appearance_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	CONSTRAINT "appearance_people_appearance_id_person_id_pk" PRIMARY KEY("appearance_id","person_id")
);
--> statement-breakpoint
CREATE TABLE "appearances" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"entry_id" uuid NOT NULL,
	"class_id" uuid NOT NULL,
	"heading_id" uuid,
	"position" double precision DEFAULT 0 NOT NULL,
	"keep_on_top" boolean DEFAULT false NOT NULL,
	"held" boolean DEFAULT false NOT NULL,
	"from_at" timestamp with time zone,
	"until_at" timestamp with time zone,
	"for_some" boolean DEFAULT false NOT NULL,
	"created_by" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"taken_back_at" timestamp with time zone,
	"taken_back_by" uuid,
	CONSTRAINT "appearances_schoolId_id_unique" UNIQUE("school_id","id"),
	CONSTRAINT "appearances_span" CHECK ("appearances"."from_at" < "appearances"."until_at")
);
--> statement-breakpoint
CREATE TABLE "class_pages" (
	"class_id" uuid PRIMARY KEY NOT NULL,
	"school_id" uuid NOT NULL,
	"numbered" boolean DEFAULT false NOT NULL,
	"current_folder_id" uuid
);
--> statement-breakpoint
CREATE TABLE "entries" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"owner_id" uuid NOT NULL,
	"title" text NOT NULL,
	"text" text DEFAULT '' NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "entries_schoolId_id_unique" UNIQUE("school_id","id"),
	CONSTRAINT "entries_title" CHECK (length("entries"."title") between 1 and 120),
	CONSTRAINT "entries_text" CHECK (length("entries"."text") <= 5000)
);
--> statement-breakpoint
CREATE TABLE "entry_things" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"entry_id" uuid NOT NULL,
	"folder_id" uuid,
	"placement_id" uuid,
	"position" double precision NOT NULL,
	CONSTRAINT "entry_things_thing" CHECK (num_nonnulls("entry_things"."folder_id", "entry_things"."placement_id") = 1)
);
--> statement-breakpoint
CREATE TABLE "headings" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"class_id" uuid NOT NULL,
	"title" text NOT NULL,
	"mark" text,
	"colour" "colour",
	"position" double precision DEFAULT 0 NOT NULL,
	"removed_at" timestamp with time zone,
	CONSTRAINT "headings_schoolId_id_unique" UNIQUE("school_id","id"),
	CONSTRAINT "headings_title" CHECK (length("headings"."title") between 1 and 60)
);
--> statement-breakpoint
DROP VIEW "public"."handings_out";--> statement-breakpoint
DROP INDEX "grants_folder_once";--> statement-breakpoint
DROP INDEX "grants_item_once";--> statement-breakpoint
ALTER TABLE "grants" ADD COLUMN "appearance_id" uuid;--> statement-breakpoint
ALTER TABLE "appearance_people" ADD CONSTRAINT "appearance_people_school_id_appearance_id_appearances_school_id_id_fk" FOREIGN KEY ("school_id","appearance_id") REFERENCES "public"."appearances"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "appearance_people" ADD CONSTRAINT "appearance_people_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "appearances" ADD CONSTRAINT "appearances_school_id_entry_id_entries_school_id_id_fk" FOREIGN KEY ("school_id","entry_id") REFERENCES "public"."entries"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "appearances" ADD CONSTRAINT "appearances_school_id_class_id_classes_school_id_id_fk" FOREIGN KEY ("school_id","class_id") REFERENCES "public"."classes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "appearances" ADD CONSTRAINT "appearances_school_id_heading_id_headings_school_id_id_fk" FOREIGN KEY ("school_id","heading_id") REFERENCES "public"."headings"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "appearances" ADD CONSTRAINT "appearances_school_id_created_by_people_school_id_id_fk" FOREIGN KEY ("school_id","created_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "appearances" ADD CONSTRAINT "appearances_school_id_taken_back_by_people_school_id_id_fk" FOREIGN KEY ("school_id","taken_back_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "class_pages" ADD CONSTRAINT "class_pages_school_id_class_id_classes_school_id_id_fk" FOREIGN KEY ("school_id","class_id") REFERENCES "public"."classes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "entries" ADD CONSTRAINT "entries_school_id_owner_id_people_school_id_id_fk" FOREIGN KEY ("school_id","owner_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "entry_things" ADD CONSTRAINT "entry_things_school_id_entry_id_entries_school_id_id_fk" FOREIGN KEY ("school_id","entry_id") REFERENCES "public"."entries"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "entry_things" ADD CONSTRAINT "entry_things_school_id_folder_id_folders_school_id_id_fk" FOREIGN KEY ("school_id","folder_id") REFERENCES "public"."folders"("school_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "entry_things" ADD CONSTRAINT "entry_things_school_id_placement_id_placements_school_id_id_fk" FOREIGN KEY ("school_id","placement_id") REFERENCES "public"."placements"("school_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "headings" ADD CONSTRAINT "headings_school_id_class_id_classes_school_id_id_fk" FOREIGN KEY ("school_id","class_id") REFERENCES "public"."classes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "appearance_people_person_id_index" ON "appearance_people" USING btree ("person_id");--> statement-breakpoint
CREATE UNIQUE INDEX "appearances_once" ON "appearances" USING btree ("entry_id","class_id") WHERE "appearances"."taken_back_at" is null;--> statement-breakpoint
CREATE INDEX "appearances_class_id_index" ON "appearances" USING btree ("class_id");--> statement-breakpoint
CREATE INDEX "entries_owner_id_index" ON "entries" USING btree ("owner_id");--> statement-breakpoint
CREATE UNIQUE INDEX "entry_things_folder" ON "entry_things" USING btree ("entry_id","folder_id");--> statement-breakpoint
CREATE UNIQUE INDEX "entry_things_placement" ON "entry_things" USING btree ("entry_id","placement_id");--> statement-breakpoint
CREATE INDEX "entry_things_folder_id_index" ON "entry_things" USING btree ("folder_id");--> statement-breakpoint
CREATE INDEX "entry_things_placement_id_index" ON "entry_things" USING btree ("placement_id");--> statement-breakpoint
CREATE INDEX "headings_class_id_index" ON "headings" USING btree ("class_id");--> statement-breakpoint
ALTER TABLE "grants" ADD CONSTRAINT "grants_school_id_appearance_id_appearances_school_id_id_fk" FOREIGN KEY ("school_id","appearance_id") REFERENCES "public"."appearances"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "grants_appearance_once" ON "grants" USING btree ("appearance_id",coalesce("folder_id", "item_id"),"audience_id") WHERE "grants"."taken_back_at" is null and "grants"."appearance_id" is not null;--> statement-breakpoint
CREATE UNIQUE INDEX "grants_folder_once" ON "grants" USING btree ("folder_id","audience_kind","audience_id") WHERE "grants"."taken_back_at" is null and "grants"."appearance_id" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "grants_item_once" ON "grants" USING btree ("item_id","audience_kind","audience_id") WHERE "grants"."taken_back_at" is null and "grants"."appearance_id" is null;--> statement-breakpoint
CREATE VIEW "public"."handings_out" AS (
  select id, school_id, folder_id, item_id, audience_kind::text as audience_kind, audience_id, level, from_at, until_at, created_at, appearance_id
  from grants where taken_back_at is null
  union all
  select id, school_id, folder_id, item_id, 'door', id, 'view'::level, from_at, until_at, created_at, null::uuid
  from doors where closed_at is null);--> statement-breakpoint
-- `class`: the page of a class has changed; heard by the pages of those who belong to it.
CREATE FUNCTION live_class_pages() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  rows_there jsonb := '[]';
BEGIN
  IF TG_OP <> 'DELETE' THEN
    SELECT coalesce(jsonb_agg(to_jsonb(a)), '[]') INTO rows_there FROM after_rows a;
  END IF;
  IF TG_OP <> 'INSERT' THEN
    SELECT rows_there || coalesce(jsonb_agg(to_jsonb(b)), '[]') INTO rows_there FROM before_rows b;
  END IF;
  PERFORM live(school_id, 'class', array_agg(DISTINCT class_id)) FROM (
    SELECT (r ->> 'school_id')::uuid AS school_id, coalesce((r ->> 'class_id')::uuid, a.class_id) AS class_id
    FROM jsonb_array_elements(rows_there) r LEFT JOIN appearances a
      ON a.entry_id = CASE TG_TABLE_NAME WHEN 'entries' THEN (r ->> 'id')::uuid ELSE (r ->> 'entry_id')::uuid END
        AND TG_TABLE_NAME IN ('entries', 'entry_things')) changed
  WHERE class_id IS NOT NULL GROUP BY school_id;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER live_update AFTER UPDATE ON entries REFERENCING OLD TABLE AS before_rows NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_class_pages();
--> statement-breakpoint
CREATE TRIGGER live_insert AFTER INSERT ON entry_things REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_class_pages();
--> statement-breakpoint
CREATE TRIGGER live_delete AFTER DELETE ON entry_things REFERENCING OLD TABLE AS before_rows FOR EACH STATEMENT EXECUTE FUNCTION live_class_pages();
--> statement-breakpoint
CREATE TRIGGER live_insert AFTER INSERT ON headings REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_class_pages();
--> statement-breakpoint
CREATE TRIGGER live_update AFTER UPDATE ON headings REFERENCING OLD TABLE AS before_rows NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_class_pages();
--> statement-breakpoint
CREATE TRIGGER live_insert AFTER INSERT ON appearances REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_class_pages();
--> statement-breakpoint
CREATE TRIGGER live_update AFTER UPDATE ON appearances REFERENCING OLD TABLE AS before_rows NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_class_pages();
--> statement-breakpoint
CREATE TRIGGER live_insert AFTER INSERT ON class_pages REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_class_pages();
--> statement-breakpoint
CREATE TRIGGER live_update AFTER UPDATE ON class_pages REFERENCING OLD TABLE AS before_rows NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_class_pages();
