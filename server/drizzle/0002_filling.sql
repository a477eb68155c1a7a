CREATE TABLE "teacher_settings" (
	"school_id" uuid NOT NULL,
	"person_id" uuid PRIMARY KEY NOT NULL,
	"naming_pattern" text NOT NULL,
	"purpose" text DEFAULT '' NOT NULL,
	"outline" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
ALTER TABLE "uploads" DROP CONSTRAINT "uploads_outcome";--> statement-breakpoint
ALTER TABLE "uploads" ALTER COLUMN "placement_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "uploads" ADD COLUMN "version_id" uuid;--> statement-breakpoint
ALTER TABLE "teacher_settings" ADD CONSTRAINT "teacher_settings_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "uploads" ADD CONSTRAINT "uploads_school_id_version_id_versions_school_id_id_fk" FOREIGN KEY ("school_id","version_id") REFERENCES "public"."versions"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "folders_binned" ON "folders" USING btree ("binned_at") WHERE "folders"."binned_at" is not null;--> statement-breakpoint
CREATE INDEX "placements_binned" ON "placements" USING btree ("binned_at") WHERE "placements"."binned_at" is not null;--> statement-breakpoint
ALTER TABLE "uploads" ADD CONSTRAINT "uploads_outcome" CHECK ("uploads"."outcome" in ('new', 'version', 'unchanged', 'placed', 'skipped'));