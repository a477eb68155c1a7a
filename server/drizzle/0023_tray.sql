CREATE TABLE "round_steps" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"round_id" uuid NOT NULL,
	"tray_file_id" uuid NOT NULL,
	"outcome" text NOT NULL,
	"title" text NOT NULL,
	"folder_id" uuid NOT NULL,
	"item_id" uuid NOT NULL,
	"placement_id" uuid NOT NULL,
	"version_id" uuid,
	"class_ids" uuid[] NOT NULL,
	"rules" jsonb NOT NULL,
	"before" jsonb NOT NULL,
	CONSTRAINT "round_steps_outcome" CHECK ("round_steps"."outcome" in ('new', 'placed', 'version', 'opened'))
);
--> statement-breakpoint
CREATE TABLE "rounds" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "rounds_schoolId_id_unique" UNIQUE("school_id","id")
);
--> statement-breakpoint
CREATE TABLE "tray_files" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"name" text NOT NULL,
	"hash" text,
	"size" bigint NOT NULL,
	"media_type" text NOT NULL,
	"arrived_at" timestamp with time zone DEFAULT now() NOT NULL,
	"upload_id" text NOT NULL,
	"answer" jsonb,
	"round_id" uuid,
	"removed_at" timestamp with time zone,
	CONSTRAINT "tray_files_schoolId_id_unique" UNIQUE("school_id","id"),
	CONSTRAINT "tray_files_name" CHECK (length("tray_files"."name") between 1 and 1000),
	CONSTRAINT "tray_files_waiting" CHECK ("tray_files"."hash" is not null or "tray_files"."round_id" is not null)
);
--> statement-breakpoint
ALTER TABLE "teacher_settings" ADD COLUMN "title_pattern" text;--> statement-breakpoint
ALTER TABLE "teacher_settings" ADD COLUMN "goes_out" jsonb;--> statement-breakpoint
ALTER TABLE "texts" ADD COLUMN "fingerprint" text;--> statement-breakpoint
ALTER TABLE "round_steps" ADD CONSTRAINT "round_steps_school_id_round_id_rounds_school_id_id_fk" FOREIGN KEY ("school_id","round_id") REFERENCES "public"."rounds"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "round_steps" ADD CONSTRAINT "round_steps_school_id_tray_file_id_tray_files_school_id_id_fk" FOREIGN KEY ("school_id","tray_file_id") REFERENCES "public"."tray_files"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rounds" ADD CONSTRAINT "rounds_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tray_files" ADD CONSTRAINT "tray_files_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tray_files" ADD CONSTRAINT "tray_files_school_id_round_id_rounds_school_id_id_fk" FOREIGN KEY ("school_id","round_id") REFERENCES "public"."rounds"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tray_files" ADD CONSTRAINT "tray_files_school_id_hash_blobs_school_id_hash_fk" FOREIGN KEY ("school_id","hash") REFERENCES "public"."blobs"("school_id","hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "round_steps_round_id_index" ON "round_steps" USING btree ("round_id");--> statement-breakpoint
CREATE INDEX "round_steps_tray_file_id_index" ON "round_steps" USING btree ("tray_file_id");--> statement-breakpoint
CREATE INDEX "rounds_person_id_at_index" ON "rounds" USING btree ("person_id","at");--> statement-breakpoint
CREATE UNIQUE INDEX "tray_files_upload" ON "tray_files" USING btree ("person_id","upload_id");--> statement-breakpoint
CREATE INDEX "tray_files_waiting" ON "tray_files" USING btree ("person_id","arrived_at") WHERE "tray_files"."round_id" is null and "tray_files"."removed_at" is null;--> statement-breakpoint
CREATE INDEX "tray_files_school_id_hash_index" ON "tray_files" USING btree ("school_id","hash");--> statement-breakpoint
CREATE INDEX "tray_files_round_id_index" ON "tray_files" USING btree ("round_id");--> statement-breakpoint
-- Open pages of the person look again when files come into the tray or leave it, and when something was made of one.
CREATE FUNCTION live_tray() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM live(school_id, 'person', array_agg(DISTINCT person_id)) FROM after_rows GROUP BY school_id;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER live_insert AFTER INSERT ON tray_files REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION live_tray();
--> statement-breakpoint
CREATE FUNCTION live_tray_left() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM live(NEW.school_id, 'person', array[NEW.person_id]);
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER live_update AFTER UPDATE ON tray_files FOR EACH ROW
  WHEN (OLD.round_id IS DISTINCT FROM NEW.round_id OR OLD.removed_at IS DISTINCT FROM NEW.removed_at OR OLD.name <> NEW.name)
  EXECUTE FUNCTION live_tray_left();
--> statement-breakpoint
CREATE FUNCTION live_tray_prepared() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM live(t.school_id, 'person', array_agg(DISTINCT t.person_id)) FROM tray_files t
    WHERE t.school_id = NEW.school_id AND t.hash = NEW.hash AND t.round_id IS NULL AND t.removed_at IS NULL GROUP BY t.school_id;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER live_tray AFTER UPDATE ON previews FOR EACH ROW
  WHEN (OLD.state <> 'done' AND NEW.state = 'done') EXECUTE FUNCTION live_tray_prepared();
