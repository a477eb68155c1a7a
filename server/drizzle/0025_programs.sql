CREATE TABLE "dav_files" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"parent" text NOT NULL,
	"name" text NOT NULL,
	"name_key" text NOT NULL,
	"hash" text,
	"size" bigint NOT NULL,
	"media_type" text NOT NULL,
	"placement_id" uuid,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "dav_files_schoolId_id_unique" UNIQUE("school_id","id")
);
--> statement-breakpoint
CREATE TABLE "dav_locks" (
	"token" uuid PRIMARY KEY NOT NULL,
	"school_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"path" text NOT NULL,
	"infinite" boolean NOT NULL,
	"exclusive" boolean NOT NULL,
	"owner" text NOT NULL,
	"ends_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "dav_properties" (
	"school_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"node" text NOT NULL,
	"namespace" text NOT NULL,
	"name" text NOT NULL,
	"xml" text NOT NULL,
	CONSTRAINT "dav_properties_person_id_node_namespace_name_pk" PRIMARY KEY("person_id","node","namespace","name")
);
--> statement-breakpoint
CREATE TABLE "tokens" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"name" text NOT NULL,
	"hash" text NOT NULL,
	"writes" boolean NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"used_at" timestamp with time zone,
	"revoked_at" timestamp with time zone,
	CONSTRAINT "tokens_schoolId_id_unique" UNIQUE("school_id","id"),
	CONSTRAINT "tokens_name" CHECK (length("tokens"."name") between 1 and 60)
);
--> statement-breakpoint
CREATE TABLE "waiting_moves" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"kind" text NOT NULL,
	"thing_id" uuid NOT NULL,
	"to_folder_id" uuid,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "waiting_moves_schoolId_id_unique" UNIQUE("school_id","id")
);
--> statement-breakpoint
ALTER TABLE "dav_files" ADD CONSTRAINT "dav_files_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dav_files" ADD CONSTRAINT "dav_files_school_id_hash_blobs_school_id_hash_fk" FOREIGN KEY ("school_id","hash") REFERENCES "public"."blobs"("school_id","hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dav_locks" ADD CONSTRAINT "dav_locks_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dav_properties" ADD CONSTRAINT "dav_properties_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tokens" ADD CONSTRAINT "tokens_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "waiting_moves" ADD CONSTRAINT "waiting_moves_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "dav_files_name" ON "dav_files" USING btree ("person_id","parent","name_key");--> statement-breakpoint
CREATE INDEX "dav_files_changed_at_index" ON "dav_files" USING btree ("changed_at");--> statement-breakpoint
CREATE INDEX "dav_locks_person_id_path_index" ON "dav_locks" USING btree ("person_id","path");--> statement-breakpoint
CREATE UNIQUE INDEX "tokens_hash_index" ON "tokens" USING btree ("hash");--> statement-breakpoint
CREATE INDEX "tokens_person_id_index" ON "tokens" USING btree ("person_id");--> statement-breakpoint
CREATE UNIQUE INDEX "waiting_moves_once" ON "waiting_moves" USING btree ("person_id","thing_id");