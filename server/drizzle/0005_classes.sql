CREATE TYPE "public"."mail_kind" AS ENUM('note', 'invitation', 'password', 'answer', 'digest');--> statement-breakpoint
CREATE TYPE "public"."mail_state" AS ENUM('waiting', 'sent', 'failed');--> statement-breakpoint
CREATE TABLE "mails" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"kind" "mail_kind" NOT NULL,
	"person_id" uuid NOT NULL,
	"note_id" uuid,
	"subject" text NOT NULL,
	"body" text DEFAULT '' NOT NULL,
	"path" text,
	"state" "mail_state" DEFAULT 'waiting' NOT NULL,
	"tries" integer DEFAULT 0 NOT NULL,
	"due_at" timestamp with time zone DEFAULT now() NOT NULL,
	"fault" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"sent_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "post_room" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"sender" text NOT NULL,
	"recipient" text NOT NULL,
	"subject" text NOT NULL,
	"body" text NOT NULL,
	"received_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
DROP INDEX "classes_code";--> statement-breakpoint
ALTER TABLE "classes" ADD COLUMN "external_id" text;--> statement-breakpoint
ALTER TABLE "classes" ADD COLUMN "removed_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "courses" ADD COLUMN "external_id" text;--> statement-breakpoint
ALTER TABLE "courses" ADD COLUMN "removed_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "people" ADD COLUMN "sign_in_key" text GENERATED ALWAYS AS (lower(coalesce("people"."email", "people"."sign_in_name" || '@' || "people"."school_id"::text || '.invalid'))) STORED;--> statement-breakpoint
ALTER TABLE "people" ADD COLUMN "external_id" text;--> statement-breakpoint
ALTER TABLE "people" ADD COLUMN "digest" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "teacher_settings" ADD COLUMN "confidential_words" text;--> statement-breakpoint
ALTER TABLE "mails" ADD CONSTRAINT "mails_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mails" ADD CONSTRAINT "mails_school_id_note_id_notes_school_id_id_fk" FOREIGN KEY ("school_id","note_id") REFERENCES "public"."notes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "mails_note_id_index" ON "mails" USING btree ("note_id");--> statement-breakpoint
CREATE INDEX "mails_waiting" ON "mails" USING btree ("due_at") WHERE "mails"."state" = 'waiting';--> statement-breakpoint
CREATE INDEX "mails_person_id_kind_created_at_index" ON "mails" USING btree ("person_id","kind","created_at");--> statement-breakpoint
CREATE INDEX "post_room_received_at_index" ON "post_room" USING btree ("received_at");--> statement-breakpoint
CREATE UNIQUE INDEX "classes_external_id" ON "classes" USING btree ("school_id","external_id");--> statement-breakpoint
CREATE UNIQUE INDEX "courses_external_id" ON "courses" USING btree ("school_id","external_id");--> statement-breakpoint
CREATE INDEX "people_sign_in_name_anywhere" ON "people" USING btree (lower("sign_in_name"));--> statement-breakpoint
CREATE UNIQUE INDEX "people_sign_in_key" ON "people" USING btree ("sign_in_key");--> statement-breakpoint
CREATE UNIQUE INDEX "people_external_id" ON "people" USING btree ("school_id","external_id");--> statement-breakpoint
CREATE INDEX "people_name" ON "people" USING btree ("school_id",lower("name"));--> statement-breakpoint
CREATE UNIQUE INDEX "requests_folder_open" ON "requests" USING btree ("person_id","folder_id") WHERE "requests"."answer" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "requests_item_open" ON "requests" USING btree ("person_id","item_id") WHERE "requests"."answer" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "classes_code" ON "classes" USING btree ("year_id",lower("code")) WHERE "classes"."removed_at" is null;--> statement-breakpoint
ALTER TABLE "requests" ADD CONSTRAINT "requests_message" CHECK (length("requests"."message") <= 1000);