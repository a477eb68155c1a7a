CREATE TYPE "public"."website_tells" AS ENUM('nothing', 'number', 'titles');--> statement-breakpoint
DROP VIEW "public"."handings_out";--> statement-breakpoint
ALTER TABLE "doors" DROP CONSTRAINT "doors_target";--> statement-breakpoint
ALTER TABLE "doors" ADD COLUMN "class_id" uuid;--> statement-breakpoint
ALTER TABLE "appearances" ADD COLUMN "open_text" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "class_pages" ADD COLUMN "website_loose" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "class_pages" ADD COLUMN "website_tells" "website_tells" DEFAULT 'nothing' NOT NULL;--> statement-breakpoint
ALTER TABLE "headings" ADD COLUMN "on_website" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "doors" ADD CONSTRAINT "doors_school_id_class_id_classes_school_id_id_fk" FOREIGN KEY ("school_id","class_id") REFERENCES "public"."classes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "doors_class_once" ON "doors" USING btree ("class_id") WHERE "doors"."closed_at" is null;--> statement-breakpoint
CREATE INDEX "appearances_from" ON "appearances" USING btree ("from_at") WHERE "appearances"."from_at" is not null;--> statement-breakpoint
CREATE INDEX "appearances_until" ON "appearances" USING btree ("until_at") WHERE "appearances"."until_at" is not null;--> statement-breakpoint
ALTER TABLE "doors" ADD CONSTRAINT "doors_target" CHECK (num_nonnulls("doors"."folder_id", "doors"."item_id", "doors"."class_id") = 1);--> statement-breakpoint
CREATE VIEW "public"."handings_out" AS (
  select id, school_id, folder_id, item_id, audience_kind::text as audience_kind, audience_id, level, from_at, until_at, created_at, appearance_id
  from grants where taken_back_at is null
  union all
  select id, school_id, folder_id, item_id, 'door', id, 'view'::level, from_at, until_at, created_at, null::uuid
  from doors where closed_at is null and class_id is null);