CREATE TABLE "page_drafts" (
	"school_id" uuid NOT NULL,
	"item_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"html" text NOT NULL,
	"base" integer NOT NULL,
	"saved_at" timestamp with time zone NOT NULL,
	CONSTRAINT "page_drafts_item_id_person_id_pk" PRIMARY KEY("item_id","person_id")
);
--> statement-breakpoint
CREATE TABLE "page_pictures" (
	"school_id" uuid NOT NULL,
	"item_id" uuid NOT NULL,
	"hash" text NOT NULL,
	"size" bigint NOT NULL,
	"media_type" text NOT NULL,
	"added_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "page_pictures_item_id_hash_pk" PRIMARY KEY("item_id","hash")
);
--> statement-breakpoint
CREATE TABLE "version_pictures" (
	"school_id" uuid NOT NULL,
	"version_id" uuid NOT NULL,
	"item_id" uuid NOT NULL,
	"hash" text NOT NULL,
	CONSTRAINT "version_pictures_version_id_hash_pk" PRIMARY KEY("version_id","hash")
);
--> statement-breakpoint
ALTER TABLE "items" DROP CONSTRAINT "items_page";--> statement-breakpoint
ALTER TABLE "items" DROP CONSTRAINT "items_file";--> statement-breakpoint
ALTER TABLE "page_drafts" ADD CONSTRAINT "page_drafts_school_id_item_id_items_school_id_id_fk" FOREIGN KEY ("school_id","item_id") REFERENCES "public"."items"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "page_drafts" ADD CONSTRAINT "page_drafts_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "page_pictures" ADD CONSTRAINT "page_pictures_school_id_item_id_items_school_id_id_fk" FOREIGN KEY ("school_id","item_id") REFERENCES "public"."items"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "page_pictures" ADD CONSTRAINT "page_pictures_school_id_hash_blobs_school_id_hash_fk" FOREIGN KEY ("school_id","hash") REFERENCES "public"."blobs"("school_id","hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "version_pictures" ADD CONSTRAINT "version_pictures_item_id_version_id_versions_item_id_id_fk" FOREIGN KEY ("item_id","version_id") REFERENCES "public"."versions"("item_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "version_pictures" ADD CONSTRAINT "version_pictures_item_id_hash_page_pictures_item_id_hash_fk" FOREIGN KEY ("item_id","hash") REFERENCES "public"."page_pictures"("item_id","hash") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "page_pictures_school_id_hash_index" ON "page_pictures" USING btree ("school_id","hash");--> statement-breakpoint
CREATE INDEX "version_pictures_item_id_hash_index" ON "version_pictures" USING btree ("item_id","hash");--> statement-breakpoint
ALTER TABLE "items" DROP COLUMN "body";--> statement-breakpoint
ALTER TABLE "items" ADD CONSTRAINT "items_version" CHECK ("items"."kind" <> 'link' or "items"."current_version_id" is null);