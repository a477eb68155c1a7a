CREATE TABLE "carried" (
	"school_id" uuid NOT NULL,
	"carry_over_id" uuid NOT NULL,
	"kind" text NOT NULL,
	"key" uuid NOT NULL,
	"source_id" uuid NOT NULL,
	"made_id" uuid NOT NULL,
	CONSTRAINT "carried_carry_over_id_kind_key_source_id_pk" PRIMARY KEY("carry_over_id","kind","key","source_id"),
	CONSTRAINT "carried_kind" CHECK ("carried"."kind" in ('folder', 'placement', 'heading', 'appearance', 'box'))
);
--> statement-breakpoint
CREATE TABLE "carry_overs" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"from_year_id" uuid NOT NULL,
	"to_year_id" uuid NOT NULL,
	"plan" jsonb NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"done" integer DEFAULT 0 NOT NULL,
	"total" integer DEFAULT 0 NOT NULL,
	"made" jsonb,
	"grants" uuid[] DEFAULT '{}' NOT NULL,
	"frames" jsonb NOT NULL,
	"fault" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ended_at" timestamp with time zone,
	"undone_at" timestamp with time zone,
	CONSTRAINT "carry_overs_schoolId_id_unique" UNIQUE("school_id","id"),
	CONSTRAINT "carry_overs_state" CHECK ("carry_overs"."state" in ('waiting', 'done', 'failed'))
);
--> statement-breakpoint
CREATE TABLE "stale_marks" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"carry_over_id" uuid NOT NULL,
	"item_id" uuid NOT NULL,
	"place" text NOT NULL,
	"hash" text,
	"count" integer NOT NULL,
	"found" text NOT NULL,
	"proposed" text,
	"settled_at" timestamp with time zone,
	CONSTRAINT "stale_marks_place" CHECK ("stale_marks"."place" in ('title', 'text', 'inside'))
);
--> statement-breakpoint
ALTER TABLE "carried" ADD CONSTRAINT "carried_school_id_carry_over_id_carry_overs_school_id_id_fk" FOREIGN KEY ("school_id","carry_over_id") REFERENCES "public"."carry_overs"("school_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "carry_overs" ADD CONSTRAINT "carry_overs_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "carry_overs" ADD CONSTRAINT "carry_overs_school_id_from_year_id_years_school_id_id_fk" FOREIGN KEY ("school_id","from_year_id") REFERENCES "public"."years"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "carry_overs" ADD CONSTRAINT "carry_overs_school_id_to_year_id_years_school_id_id_fk" FOREIGN KEY ("school_id","to_year_id") REFERENCES "public"."years"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stale_marks" ADD CONSTRAINT "stale_marks_school_id_carry_over_id_carry_overs_school_id_id_fk" FOREIGN KEY ("school_id","carry_over_id") REFERENCES "public"."carry_overs"("school_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "stale_marks" ADD CONSTRAINT "stale_marks_school_id_item_id_items_school_id_id_fk" FOREIGN KEY ("school_id","item_id") REFERENCES "public"."items"("school_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "carried_source_id_index" ON "carried" USING btree ("source_id");--> statement-breakpoint
CREATE INDEX "carry_overs_person_id_index" ON "carry_overs" USING btree ("person_id");--> statement-breakpoint
CREATE UNIQUE INDEX "stale_marks_once" ON "stale_marks" USING btree ("carry_over_id","item_id","place");--> statement-breakpoint
CREATE INDEX "stale_marks_item_id_index" ON "stale_marks" USING btree ("item_id");--> statement-breakpoint
-- Only where there is something to write: a statement that changes nothing runs its triggers all the same, and whoever places many things at a time
-- has said so of all of them before.
CREATE OR REPLACE FUNCTION placement_several() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF EXISTS (SELECT FROM placements WHERE item_id = NEW.item_id AND id <> NEW.id AND NOT several) THEN
    UPDATE placements SET several = true WHERE item_id = NEW.item_id AND id <> NEW.id AND NOT several;
  END IF;
  NEW.several := EXISTS (SELECT FROM placements WHERE item_id = NEW.item_id AND id <> NEW.id)
    OR EXISTS (SELECT FROM grants WHERE item_id = NEW.item_id);
  RETURN NEW;
END $$;
