CREATE TABLE "feeds" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"class_id" uuid,
	"token" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"closed_at" timestamp with time zone,
	CONSTRAINT "feeds_token_unique" UNIQUE("token")
);
--> statement-breakpoint
ALTER TABLE "people" ADD COLUMN "language" text;--> statement-breakpoint
ALTER TABLE "doors" ADD COLUMN "cover_text" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "doors" ADD COLUMN "listed" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "kept" ADD COLUMN "title" text NOT NULL;--> statement-breakpoint
ALTER TABLE "kept" ADD COLUMN "mark" text;--> statement-breakpoint
ALTER TABLE "feeds" ADD CONSTRAINT "feeds_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "feeds" ADD CONSTRAINT "feeds_school_id_class_id_classes_school_id_id_fk" FOREIGN KEY ("school_id","class_id") REFERENCES "public"."classes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "feeds_once" ON "feeds" USING btree ("person_id",coalesce("class_id", "person_id")) WHERE "feeds"."closed_at" is null;--> statement-breakpoint
ALTER TABLE "doors" ADD CONSTRAINT "doors_cover_text" CHECK (length("doors"."cover_text") <= 2000);--> statement-breakpoint

-- A version that is taken away again leaves its copies; they forget which one they came from.
ALTER TABLE items DROP CONSTRAINT items_copy_of_version;
--> statement-breakpoint
ALTER TABLE items ADD CONSTRAINT items_copy_of_version FOREIGN KEY (copy_of_item_id, copy_of_version_id)
  REFERENCES versions (item_id, id) ON DELETE SET NULL (copy_of_version_id);
--> statement-breakpoint
CREATE INDEX items_copy_of ON items (copy_of_item_id) WHERE copy_of_item_id IS NOT NULL;
