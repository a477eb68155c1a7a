CREATE TYPE "public"."preview_state" AS ENUM('waiting', 'done', 'failed');--> statement-breakpoint
CREATE TABLE "previews" (
	"school_id" uuid NOT NULL,
	"hash" text NOT NULL,
	"media_type" text NOT NULL,
	"state" "preview_state" DEFAULT 'waiting' NOT NULL,
	"fault" text,
	"small" text,
	"shown" text,
	"tries" integer DEFAULT 0 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "previews_school_id_hash_pk" PRIMARY KEY("school_id","hash")
);
--> statement-breakpoint
CREATE TABLE "texts" (
	"school_id" uuid NOT NULL,
	"hash" text NOT NULL,
	"opening" text NOT NULL,
	"body" text NOT NULL,
	"words" "tsvector" GENERATED ALWAYS AS (to_tsvector('simple', left("texts"."body", 300000))) STORED NOT NULL,
	CONSTRAINT "texts_school_id_hash_pk" PRIMARY KEY("school_id","hash")
);
--> statement-breakpoint
ALTER TABLE "previews" ADD CONSTRAINT "previews_school_id_hash_blobs_school_id_hash_fk" FOREIGN KEY ("school_id","hash") REFERENCES "public"."blobs"("school_id","hash") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "texts" ADD CONSTRAINT "texts_school_id_hash_blobs_school_id_hash_fk" FOREIGN KEY ("school_id","hash") REFERENCES "public"."blobs"("school_id","hash") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "previews_waiting" ON "previews" USING btree ("created_at") WHERE "previews"."state" = 'waiting';--> statement-breakpoint
CREATE INDEX "texts_words" ON "texts" USING gin ("words");