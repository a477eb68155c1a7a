CREATE TYPE "public"."reach_level" AS ENUM('names', 'numbers', 'nothing');--> statement-breakpoint
CREATE TABLE "visitor_salts" (
	"day" date PRIMARY KEY NOT NULL,
	"salt" text NOT NULL
);
--> statement-breakpoint
DROP INDEX "openings_placement_id_index";--> statement-breakpoint
ALTER TABLE "notes" ALTER COLUMN "grant_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "schools" ADD COLUMN "reach" "reach_level" DEFAULT 'names' NOT NULL;--> statement-breakpoint
ALTER TABLE "schools" ADD COLUMN "reach_since" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "notes" ADD COLUMN "item_id" uuid;--> statement-breakpoint
ALTER TABLE "openings" ADD COLUMN "visitor" text;--> statement-breakpoint
ALTER TABLE "notes" ADD CONSTRAINT "notes_school_id_item_id_items_school_id_id_fk" FOREIGN KEY ("school_id","item_id") REFERENCES "public"."items"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "notes_item_id_index" ON "notes" USING btree ("item_id") WHERE "notes"."item_id" is not null;--> statement-breakpoint
CREATE UNIQUE INDEX "openings_visitor_once" ON "openings" USING btree ("placement_id",coalesce("version_id", "placement_id"),"kind","visitor") WHERE "openings"."visitor" is not null;--> statement-breakpoint
CREATE INDEX "openings_reach" ON "openings" USING btree ("placement_id","person_id","version_id","kind","at");--> statement-breakpoint
ALTER TABLE "notes" ADD CONSTRAINT "notes_about" CHECK (num_nonnulls("notes"."grant_id", "notes"."item_id") = 1);