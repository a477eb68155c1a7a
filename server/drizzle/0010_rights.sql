CREATE TABLE "join_requests" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"class_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"from_at" timestamp with time zone,
	"until_at" timestamp with time zone,
	"asked_by" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"answer" text,
	"answered_by" uuid,
	"answered_at" timestamp with time zone,
	CONSTRAINT "join_requests_answer" CHECK ("join_requests"."answer" in ('yes', 'no')),
	CONSTRAINT "join_requests_span" CHECK ("join_requests"."from_at" < "join_requests"."until_at")
);
--> statement-breakpoint
ALTER TABLE "memberships" ADD COLUMN "added_by" uuid;--> statement-breakpoint
ALTER TABLE "memberships" ADD COLUMN "ended_by" uuid;--> statement-breakpoint
ALTER TABLE "people" ADD COLUMN "made_by" uuid;--> statement-breakpoint
ALTER TABLE "kept" ADD COLUMN "door_token" text;--> statement-breakpoint
ALTER TABLE "kept" ADD COLUMN "door_word_hash" text;--> statement-breakpoint
ALTER TABLE "join_requests" ADD CONSTRAINT "join_requests_school_id_class_id_classes_school_id_id_fk" FOREIGN KEY ("school_id","class_id") REFERENCES "public"."classes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "join_requests" ADD CONSTRAINT "join_requests_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "join_requests" ADD CONSTRAINT "join_requests_school_id_asked_by_people_school_id_id_fk" FOREIGN KEY ("school_id","asked_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "join_requests" ADD CONSTRAINT "join_requests_school_id_answered_by_people_school_id_id_fk" FOREIGN KEY ("school_id","answered_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "join_requests_once" ON "join_requests" USING btree ("class_id","person_id") WHERE "join_requests"."answer" is null;--> statement-breakpoint
CREATE INDEX "join_requests_person_id_index" ON "join_requests" USING btree ("person_id");--> statement-breakpoint
ALTER TABLE "memberships" ADD CONSTRAINT "memberships_school_id_added_by_people_school_id_id_fk" FOREIGN KEY ("school_id","added_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "memberships" ADD CONSTRAINT "memberships_school_id_ended_by_people_school_id_id_fk" FOREIGN KEY ("school_id","ended_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "people" ADD CONSTRAINT "people_school_id_made_by_people_school_id_id_fk" FOREIGN KEY ("school_id","made_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
-- The words of slips are kept beside passwords from now on.
UPDATE "credentials" SET "provider_id" = 'start' WHERE "start_word";--> statement-breakpoint
ALTER TABLE "credentials" DROP COLUMN "start_word";--> statement-breakpoint
-- How a door was opened when something was kept there is not known: what opens it now counts.
UPDATE "kept" SET "door_token" = "doors"."token", "door_word_hash" = "doors"."word_hash" FROM "doors" WHERE "doors"."id" = "kept"."door_id";