CREATE TYPE "public"."colour" AS ENUM('leaf', 'plum', 'lake', 'bark', 'rose', 'slate', 'moss', 'clay');--> statement-breakpoint
CREATE TYPE "public"."person_kind" AS ENUM('teacher', 'student', 'office');--> statement-breakpoint
CREATE TYPE "public"."folder_display" AS ENUM('list', 'tiles', 'reader');--> statement-breakpoint
CREATE TYPE "public"."folder_order" AS ENUM('hand', 'a_to_z', 'lesson_date', 'newest');--> statement-breakpoint
CREATE TYPE "public"."item_kind" AS ENUM('file', 'link', 'page');--> statement-breakpoint
CREATE TYPE "public"."door_kind" AS ENUM('public', 'school');--> statement-breakpoint
CREATE TYPE "public"."level" AS ENUM('view', 'add', 'manage');--> statement-breakpoint
CREATE TYPE "public"."roster_audience" AS ENUM('person', 'class', 'course', 'staff', 'school');--> statement-breakpoint
CREATE TYPE "public"."opening_kind" AS ENUM('opened', 'downloaded');--> statement-breakpoint
CREATE TYPE "public"."request_answer" AS ENUM('person', 'class', 'no');--> statement-breakpoint
CREATE TABLE "classes" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"course_id" uuid NOT NULL,
	"year_id" uuid NOT NULL,
	"code" text NOT NULL,
	"colour" "colour" NOT NULL,
	CONSTRAINT "classes_schoolId_id_unique" UNIQUE("school_id","id")
);
--> statement-breakpoint
CREATE TABLE "course_teachers" (
	"school_id" uuid NOT NULL,
	"course_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	CONSTRAINT "course_teachers_course_id_person_id_pk" PRIMARY KEY("course_id","person_id")
);
--> statement-breakpoint
CREATE TABLE "courses" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"year_id" uuid NOT NULL,
	"title" text NOT NULL,
	"colour" "colour" NOT NULL,
	CONSTRAINT "courses_schoolId_id_unique" UNIQUE("school_id","id")
);
--> statement-breakpoint
CREATE TABLE "memberships" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"class_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"from_at" timestamp with time zone,
	"until_at" timestamp with time zone,
	CONSTRAINT "memberships_span" CHECK ("memberships"."from_at" < "memberships"."until_at")
);
--> statement-breakpoint
CREATE TABLE "people" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"kind" "person_kind" NOT NULL,
	"name" text NOT NULL,
	"email" text,
	"email_verified" boolean DEFAULT false NOT NULL,
	"sign_in_name" text,
	"image" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "people_schoolId_id_unique" UNIQUE("school_id","id")
);
--> statement-breakpoint
CREATE TABLE "schools" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"sign_in_domains" text[] DEFAULT '{}' NOT NULL,
	"time_zone" text NOT NULL,
	"sample" boolean DEFAULT false NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "years" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"label" text NOT NULL,
	"first_day" date NOT NULL,
	"last_day" date NOT NULL,
	"closed_at" timestamp with time zone,
	CONSTRAINT "years_schoolId_id_unique" UNIQUE("school_id","id"),
	CONSTRAINT "years_schoolId_label_unique" UNIQUE("school_id","label"),
	CONSTRAINT "years_days" CHECK ("years"."first_day" < "years"."last_day")
);
--> statement-breakpoint
CREATE TABLE "credentials" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"user_id" uuid NOT NULL,
	"account_id" text NOT NULL,
	"provider_id" text NOT NULL,
	"access_token" text,
	"refresh_token" text,
	"access_token_expires_at" timestamp with time zone,
	"refresh_token_expires_at" timestamp with time zone,
	"scope" text,
	"id_token" text,
	"password" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "credentials_providerId_accountId_unique" UNIQUE("provider_id","account_id")
);
--> statement-breakpoint
CREATE TABLE "rate_limits" (
	"key" text PRIMARY KEY NOT NULL,
	"points" integer DEFAULT 0 NOT NULL,
	"expire" bigint
);
--> statement-breakpoint
CREATE TABLE "sessions" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"user_id" uuid NOT NULL,
	"token" text NOT NULL,
	"expires_at" timestamp with time zone NOT NULL,
	"ip_address" text,
	"user_agent" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "sessions_token_unique" UNIQUE("token")
);
--> statement-breakpoint
CREATE TABLE "verifications" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"identifier" text NOT NULL,
	"value" text NOT NULL,
	"expires_at" timestamp with time zone NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "blobs" (
	"school_id" uuid NOT NULL,
	"hash" text NOT NULL,
	"size" bigint NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "blobs_school_id_hash_pk" PRIMARY KEY("school_id","hash"),
	CONSTRAINT "blobs_hash" CHECK ("blobs"."hash" ~ '^[0-9a-f]{64}$'),
	CONSTRAINT "blobs_size" CHECK ("blobs"."size" >= 0)
);
--> statement-breakpoint
CREATE TABLE "folders" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"owner_id" uuid NOT NULL,
	"parent_id" uuid,
	"path" uuid[] DEFAULT '{}' NOT NULL,
	"title" text NOT NULL,
	"name_key" text GENERATED ALWAYS AS (lower(normalize("folders"."title", NFC) collate "und-x-icu")) STORED NOT NULL,
	"mark" text,
	"colour" "colour",
	"order" "folder_order" DEFAULT 'hand' NOT NULL,
	"display" "folder_display" DEFAULT 'list' NOT NULL,
	"position" double precision DEFAULT 0 NOT NULL,
	"keep_on_top" boolean DEFAULT false NOT NULL,
	"year_id" uuid,
	"held" boolean DEFAULT false NOT NULL,
	"from_at" timestamp with time zone,
	"until_at" timestamp with time zone,
	"created_by" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"binned_at" timestamp with time zone,
	"binned_by" uuid,
	CONSTRAINT "folders_schoolId_id_unique" UNIQUE("school_id","id"),
	CONSTRAINT "folders_schoolId_ownerId_id_unique" UNIQUE("school_id","owner_id","id"),
	CONSTRAINT "folders_title" CHECK (length("folders"."title") between 1 and 60),
	CONSTRAINT "folders_span" CHECK ("folders"."from_at" < "folders"."until_at"),
	CONSTRAINT "folders_path" CHECK ("folders"."path"[cardinality("folders"."path")] = "folders"."id" and "folders"."path"[cardinality("folders"."path") - 1] is not distinct from "folders"."parent_id" and cardinality("folders"."path") <= 64)
);
--> statement-breakpoint
CREATE TABLE "items" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"owner_id" uuid NOT NULL,
	"kind" "item_kind" NOT NULL,
	"title" text NOT NULL,
	"extension" text DEFAULT '' NOT NULL,
	"description" text DEFAULT '' NOT NULL,
	"lesson_date" date,
	"url" text,
	"body" text,
	"current_version_id" uuid,
	"copy_of_item_id" uuid,
	"copy_of_version_id" uuid,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "items_schoolId_id_unique" UNIQUE("school_id","id"),
	CONSTRAINT "items_title" CHECK (length("items"."title") between 1 and 121),
	CONSTRAINT "items_link" CHECK (("items"."kind" = 'link') = ("items"."url" is not null)),
	CONSTRAINT "items_page" CHECK (("items"."kind" = 'page') = ("items"."body" is not null)),
	CONSTRAINT "items_file" CHECK ("items"."kind" = 'file' or "items"."current_version_id" is null)
);
--> statement-breakpoint
CREATE TABLE "placements" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"folder_id" uuid NOT NULL,
	"item_id" uuid NOT NULL,
	"name_key" text DEFAULT '' NOT NULL,
	"position" double precision DEFAULT 0 NOT NULL,
	"keep_on_top" boolean DEFAULT false NOT NULL,
	"held" boolean DEFAULT false NOT NULL,
	"from_at" timestamp with time zone,
	"until_at" timestamp with time zone,
	"added_by" uuid NOT NULL,
	"added_at" timestamp with time zone DEFAULT now() NOT NULL,
	"binned_at" timestamp with time zone,
	"binned_by" uuid,
	CONSTRAINT "placements_schoolId_id_unique" UNIQUE("school_id","id"),
	CONSTRAINT "placements_span" CHECK ("placements"."from_at" < "placements"."until_at")
);
--> statement-breakpoint
CREATE TABLE "uploads" (
	"id" text PRIMARY KEY NOT NULL,
	"school_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"folder_id" uuid NOT NULL,
	"placement_id" uuid NOT NULL,
	"outcome" text NOT NULL,
	"given_name" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "uploads_outcome" CHECK ("uploads"."outcome" in ('new', 'version', 'unchanged'))
);
--> statement-breakpoint
CREATE TABLE "versions" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"item_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"hash" text NOT NULL,
	"size" bigint NOT NULL,
	"media_type" text NOT NULL,
	"original_name" text NOT NULL,
	"created_by" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "versions_schoolId_id_unique" UNIQUE("school_id","id"),
	CONSTRAINT "versions_itemId_id_unique" UNIQUE("item_id","id"),
	CONSTRAINT "versions_itemId_number_unique" UNIQUE("item_id","number"),
	CONSTRAINT "versions_number" CHECK ("versions"."number" > 0)
);
--> statement-breakpoint
CREATE TABLE "class_releases" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"folder_id" uuid,
	"placement_id" uuid,
	"class_id" uuid NOT NULL,
	"held" boolean DEFAULT false NOT NULL,
	"from_at" timestamp with time zone,
	"until_at" timestamp with time zone,
	CONSTRAINT "class_releases_target" CHECK (num_nonnulls("class_releases"."folder_id", "class_releases"."placement_id") = 1),
	CONSTRAINT "class_releases_span" CHECK ("class_releases"."from_at" < "class_releases"."until_at")
);
--> statement-breakpoint
CREATE TABLE "doors" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"kind" "door_kind" NOT NULL,
	"token" text NOT NULL,
	"short_address" text,
	"word_hash" text,
	"folder_id" uuid,
	"item_id" uuid,
	"from_at" timestamp with time zone,
	"until_at" timestamp with time zone,
	"created_by" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"closed_at" timestamp with time zone,
	CONSTRAINT "doors_token_unique" UNIQUE("token"),
	CONSTRAINT "doors_shortAddress_unique" UNIQUE("short_address"),
	CONSTRAINT "doors_schoolId_id_unique" UNIQUE("school_id","id"),
	CONSTRAINT "doors_target" CHECK (num_nonnulls("doors"."folder_id", "doors"."item_id") = 1),
	CONSTRAINT "doors_token" CHECK (length("doors"."token") >= 22),
	CONSTRAINT "doors_span" CHECK ("doors"."from_at" < "doors"."until_at")
);
--> statement-breakpoint
CREATE TABLE "grants" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"folder_id" uuid,
	"item_id" uuid,
	"audience_kind" "roster_audience" NOT NULL,
	"person_id" uuid,
	"class_id" uuid,
	"course_id" uuid,
	"audience_id" uuid GENERATED ALWAYS AS (coalesce(person_id, class_id, course_id, school_id)) STORED NOT NULL,
	"level" "level" DEFAULT 'view' NOT NULL,
	"from_at" timestamp with time zone,
	"until_at" timestamp with time zone,
	"created_by" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"taken_back_at" timestamp with time zone,
	"taken_back_by" uuid,
	CONSTRAINT "grants_schoolId_id_unique" UNIQUE("school_id","id"),
	CONSTRAINT "grants_target" CHECK (num_nonnulls("grants"."folder_id", "grants"."item_id") = 1),
	CONSTRAINT "grants_audience" CHECK (("grants"."audience_kind" = 'person') = ("grants"."person_id" is not null)
        and ("grants"."audience_kind" = 'class') = ("grants"."class_id" is not null)
        and ("grants"."audience_kind" = 'course') = ("grants"."course_id" is not null)),
	CONSTRAINT "grants_level" CHECK ("grants"."level" = 'view' or ("grants"."audience_kind" in ('person', 'staff') and "grants"."folder_id" is not null)),
	CONSTRAINT "grants_span" CHECK ("grants"."from_at" < "grants"."until_at")
);
--> statement-breakpoint
CREATE TABLE "comments" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"item_id" uuid NOT NULL,
	"body" text NOT NULL,
	"created_by" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "kept" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"folder_id" uuid,
	"item_id" uuid,
	"door_id" uuid,
	"position" double precision DEFAULT 0 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "kept_target" CHECK (num_nonnulls("kept"."folder_id", "kept"."item_id") = 1)
);
--> statement-breakpoint
CREATE TABLE "notes" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"grant_id" uuid NOT NULL,
	"body" text NOT NULL,
	"copy_to_sender" boolean DEFAULT false NOT NULL,
	"created_by" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"sent_at" timestamp with time zone,
	CONSTRAINT "notes_schoolId_id_unique" UNIQUE("school_id","id")
);
--> statement-breakpoint
CREATE TABLE "openings" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "openings_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"school_id" uuid NOT NULL,
	"placement_id" uuid NOT NULL,
	"version_id" uuid,
	"person_id" uuid,
	"door_id" uuid,
	"kind" "opening_kind" NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "openings_by" CHECK (num_nonnulls("openings"."person_id", "openings"."door_id") = 1)
);
--> statement-breakpoint
CREATE TABLE "requests" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"folder_id" uuid,
	"item_id" uuid,
	"message" text DEFAULT '' NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"answer" "request_answer",
	"answered_by" uuid,
	"answered_at" timestamp with time zone,
	CONSTRAINT "requests_target" CHECK (num_nonnulls("requests"."folder_id", "requests"."item_id") = 1),
	CONSTRAINT "requests_answer" CHECK (num_nonnulls("requests"."answer", "requests"."answered_by", "requests"."answered_at") in (0, 3))
);
--> statement-breakpoint
ALTER TABLE "classes" ADD CONSTRAINT "classes_school_id_course_id_courses_school_id_id_fk" FOREIGN KEY ("school_id","course_id") REFERENCES "public"."courses"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "classes" ADD CONSTRAINT "classes_school_id_year_id_years_school_id_id_fk" FOREIGN KEY ("school_id","year_id") REFERENCES "public"."years"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course_teachers" ADD CONSTRAINT "course_teachers_school_id_course_id_courses_school_id_id_fk" FOREIGN KEY ("school_id","course_id") REFERENCES "public"."courses"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "course_teachers" ADD CONSTRAINT "course_teachers_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "courses" ADD CONSTRAINT "courses_school_id_year_id_years_school_id_id_fk" FOREIGN KEY ("school_id","year_id") REFERENCES "public"."years"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "memberships" ADD CONSTRAINT "memberships_school_id_class_id_classes_school_id_id_fk" FOREIGN KEY ("school_id","class_id") REFERENCES "public"."classes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "memberships" ADD CONSTRAINT "memberships_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "people" ADD CONSTRAINT "people_school_id_schools_id_fk" FOREIGN KEY ("school_id") REFERENCES "public"."schools"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "years" ADD CONSTRAINT "years_school_id_schools_id_fk" FOREIGN KEY ("school_id") REFERENCES "public"."schools"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "credentials" ADD CONSTRAINT "credentials_user_id_people_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sessions" ADD CONSTRAINT "sessions_user_id_people_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "blobs" ADD CONSTRAINT "blobs_school_id_schools_id_fk" FOREIGN KEY ("school_id") REFERENCES "public"."schools"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "folders" ADD CONSTRAINT "folders_school_id_owner_id_people_school_id_id_fk" FOREIGN KEY ("school_id","owner_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "folders" ADD CONSTRAINT "folders_school_id_created_by_people_school_id_id_fk" FOREIGN KEY ("school_id","created_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "folders" ADD CONSTRAINT "folders_school_id_binned_by_people_school_id_id_fk" FOREIGN KEY ("school_id","binned_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "folders" ADD CONSTRAINT "folders_school_id_year_id_years_school_id_id_fk" FOREIGN KEY ("school_id","year_id") REFERENCES "public"."years"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "folders" ADD CONSTRAINT "folders_school_id_owner_id_parent_id_folders_school_id_owner_id_id_fk" FOREIGN KEY ("school_id","owner_id","parent_id") REFERENCES "public"."folders"("school_id","owner_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "items" ADD CONSTRAINT "items_school_id_owner_id_people_school_id_id_fk" FOREIGN KEY ("school_id","owner_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "items" ADD CONSTRAINT "items_school_id_copy_of_item_id_items_school_id_id_fk" FOREIGN KEY ("school_id","copy_of_item_id") REFERENCES "public"."items"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "placements" ADD CONSTRAINT "placements_school_id_folder_id_folders_school_id_id_fk" FOREIGN KEY ("school_id","folder_id") REFERENCES "public"."folders"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "placements" ADD CONSTRAINT "placements_school_id_item_id_items_school_id_id_fk" FOREIGN KEY ("school_id","item_id") REFERENCES "public"."items"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "placements" ADD CONSTRAINT "placements_school_id_added_by_people_school_id_id_fk" FOREIGN KEY ("school_id","added_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "placements" ADD CONSTRAINT "placements_school_id_binned_by_people_school_id_id_fk" FOREIGN KEY ("school_id","binned_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "uploads" ADD CONSTRAINT "uploads_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "uploads" ADD CONSTRAINT "uploads_school_id_folder_id_folders_school_id_id_fk" FOREIGN KEY ("school_id","folder_id") REFERENCES "public"."folders"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "uploads" ADD CONSTRAINT "uploads_school_id_placement_id_placements_school_id_id_fk" FOREIGN KEY ("school_id","placement_id") REFERENCES "public"."placements"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "versions" ADD CONSTRAINT "versions_school_id_item_id_items_school_id_id_fk" FOREIGN KEY ("school_id","item_id") REFERENCES "public"."items"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "versions" ADD CONSTRAINT "versions_school_id_created_by_people_school_id_id_fk" FOREIGN KEY ("school_id","created_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "versions" ADD CONSTRAINT "versions_school_id_hash_blobs_school_id_hash_fk" FOREIGN KEY ("school_id","hash") REFERENCES "public"."blobs"("school_id","hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "class_releases" ADD CONSTRAINT "class_releases_school_id_folder_id_folders_school_id_id_fk" FOREIGN KEY ("school_id","folder_id") REFERENCES "public"."folders"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "class_releases" ADD CONSTRAINT "class_releases_school_id_placement_id_placements_school_id_id_fk" FOREIGN KEY ("school_id","placement_id") REFERENCES "public"."placements"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "class_releases" ADD CONSTRAINT "class_releases_school_id_class_id_classes_school_id_id_fk" FOREIGN KEY ("school_id","class_id") REFERENCES "public"."classes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "doors" ADD CONSTRAINT "doors_school_id_folder_id_folders_school_id_id_fk" FOREIGN KEY ("school_id","folder_id") REFERENCES "public"."folders"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "doors" ADD CONSTRAINT "doors_school_id_item_id_items_school_id_id_fk" FOREIGN KEY ("school_id","item_id") REFERENCES "public"."items"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "doors" ADD CONSTRAINT "doors_school_id_created_by_people_school_id_id_fk" FOREIGN KEY ("school_id","created_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "grants" ADD CONSTRAINT "grants_school_id_folder_id_folders_school_id_id_fk" FOREIGN KEY ("school_id","folder_id") REFERENCES "public"."folders"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "grants" ADD CONSTRAINT "grants_school_id_item_id_items_school_id_id_fk" FOREIGN KEY ("school_id","item_id") REFERENCES "public"."items"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "grants" ADD CONSTRAINT "grants_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "grants" ADD CONSTRAINT "grants_school_id_class_id_classes_school_id_id_fk" FOREIGN KEY ("school_id","class_id") REFERENCES "public"."classes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "grants" ADD CONSTRAINT "grants_school_id_course_id_courses_school_id_id_fk" FOREIGN KEY ("school_id","course_id") REFERENCES "public"."courses"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "grants" ADD CONSTRAINT "grants_school_id_created_by_people_school_id_id_fk" FOREIGN KEY ("school_id","created_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "grants" ADD CONSTRAINT "grants_school_id_taken_back_by_people_school_id_id_fk" FOREIGN KEY ("school_id","taken_back_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "comments" ADD CONSTRAINT "comments_school_id_item_id_items_school_id_id_fk" FOREIGN KEY ("school_id","item_id") REFERENCES "public"."items"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "comments" ADD CONSTRAINT "comments_school_id_created_by_people_school_id_id_fk" FOREIGN KEY ("school_id","created_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kept" ADD CONSTRAINT "kept_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kept" ADD CONSTRAINT "kept_school_id_folder_id_folders_school_id_id_fk" FOREIGN KEY ("school_id","folder_id") REFERENCES "public"."folders"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kept" ADD CONSTRAINT "kept_school_id_item_id_items_school_id_id_fk" FOREIGN KEY ("school_id","item_id") REFERENCES "public"."items"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kept" ADD CONSTRAINT "kept_school_id_door_id_doors_school_id_id_fk" FOREIGN KEY ("school_id","door_id") REFERENCES "public"."doors"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notes" ADD CONSTRAINT "notes_school_id_grant_id_grants_school_id_id_fk" FOREIGN KEY ("school_id","grant_id") REFERENCES "public"."grants"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notes" ADD CONSTRAINT "notes_school_id_created_by_people_school_id_id_fk" FOREIGN KEY ("school_id","created_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "openings" ADD CONSTRAINT "openings_school_id_placement_id_placements_school_id_id_fk" FOREIGN KEY ("school_id","placement_id") REFERENCES "public"."placements"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "openings" ADD CONSTRAINT "openings_school_id_version_id_versions_school_id_id_fk" FOREIGN KEY ("school_id","version_id") REFERENCES "public"."versions"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "openings" ADD CONSTRAINT "openings_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "openings" ADD CONSTRAINT "openings_school_id_door_id_doors_school_id_id_fk" FOREIGN KEY ("school_id","door_id") REFERENCES "public"."doors"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "requests" ADD CONSTRAINT "requests_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "requests" ADD CONSTRAINT "requests_school_id_folder_id_folders_school_id_id_fk" FOREIGN KEY ("school_id","folder_id") REFERENCES "public"."folders"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "requests" ADD CONSTRAINT "requests_school_id_item_id_items_school_id_id_fk" FOREIGN KEY ("school_id","item_id") REFERENCES "public"."items"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "requests" ADD CONSTRAINT "requests_school_id_answered_by_people_school_id_id_fk" FOREIGN KEY ("school_id","answered_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "classes_code" ON "classes" USING btree ("year_id",lower("code"));--> statement-breakpoint
CREATE INDEX "classes_course_id_index" ON "classes" USING btree ("course_id");--> statement-breakpoint
CREATE INDEX "course_teachers_person_id_index" ON "course_teachers" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "courses_year_id_index" ON "courses" USING btree ("year_id");--> statement-breakpoint
CREATE INDEX "memberships_person_id_index" ON "memberships" USING btree ("person_id");--> statement-breakpoint
CREATE INDEX "memberships_class_id_index" ON "memberships" USING btree ("class_id");--> statement-breakpoint
CREATE UNIQUE INDEX "people_email" ON "people" USING btree (lower("email"));--> statement-breakpoint
CREATE UNIQUE INDEX "people_sign_in_name" ON "people" USING btree ("school_id",lower("sign_in_name"));--> statement-breakpoint
CREATE INDEX "credentials_user_id_index" ON "credentials" USING btree ("user_id");--> statement-breakpoint
CREATE INDEX "sessions_user_id_index" ON "sessions" USING btree ("user_id");--> statement-breakpoint
CREATE INDEX "verifications_identifier_index" ON "verifications" USING btree ("identifier");--> statement-breakpoint
CREATE UNIQUE INDEX "folders_sibling_name" ON "folders" USING btree ("parent_id","name_key") WHERE "folders"."binned_at" is null and "folders"."parent_id" is not null;--> statement-breakpoint
CREATE UNIQUE INDEX "folders_top_name" ON "folders" USING btree ("owner_id","name_key") WHERE "folders"."binned_at" is null and "folders"."parent_id" is null;--> statement-breakpoint
CREATE INDEX "folders_path_gin" ON "folders" USING gin ("path");--> statement-breakpoint
CREATE INDEX "folders_owner_id_index" ON "folders" USING btree ("owner_id");--> statement-breakpoint
CREATE INDEX "items_owner_id_index" ON "items" USING btree ("owner_id");--> statement-breakpoint
CREATE UNIQUE INDEX "placements_once" ON "placements" USING btree ("folder_id","item_id") WHERE "placements"."binned_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "placements_sibling_name" ON "placements" USING btree ("folder_id","name_key") WHERE "placements"."binned_at" is null;--> statement-breakpoint
CREATE INDEX "placements_by_hand" ON "placements" USING btree ("folder_id","position","id");--> statement-breakpoint
CREATE INDEX "placements_newest" ON "placements" USING btree ("folder_id","added_at");--> statement-breakpoint
CREATE INDEX "placements_item_id_index" ON "placements" USING btree ("item_id");--> statement-breakpoint
CREATE INDEX "versions_school_id_hash_index" ON "versions" USING btree ("school_id","hash");--> statement-breakpoint
CREATE UNIQUE INDEX "class_releases_folder" ON "class_releases" USING btree ("folder_id","class_id");--> statement-breakpoint
CREATE UNIQUE INDEX "class_releases_placement" ON "class_releases" USING btree ("placement_id","class_id");--> statement-breakpoint
CREATE UNIQUE INDEX "doors_folder_once" ON "doors" USING btree ("folder_id","kind") WHERE "doors"."closed_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "doors_item_once" ON "doors" USING btree ("item_id","kind") WHERE "doors"."closed_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "grants_folder_once" ON "grants" USING btree ("folder_id","audience_kind","audience_id") WHERE "grants"."taken_back_at" is null;--> statement-breakpoint
CREATE UNIQUE INDEX "grants_item_once" ON "grants" USING btree ("item_id","audience_kind","audience_id") WHERE "grants"."taken_back_at" is null;--> statement-breakpoint
CREATE INDEX "grants_audience_index" ON "grants" USING btree ("audience_id");--> statement-breakpoint
CREATE INDEX "comments_item_id_index" ON "comments" USING btree ("item_id");--> statement-breakpoint
CREATE UNIQUE INDEX "kept_folder" ON "kept" USING btree ("person_id","folder_id");--> statement-breakpoint
CREATE UNIQUE INDEX "kept_item" ON "kept" USING btree ("person_id","item_id");--> statement-breakpoint
CREATE INDEX "openings_person_id_placement_id_index" ON "openings" USING btree ("person_id","placement_id");--> statement-breakpoint
CREATE INDEX "openings_placement_id_index" ON "openings" USING btree ("placement_id");--> statement-breakpoint
CREATE VIEW "public"."handings_out" AS (
  select id, school_id, folder_id, item_id, audience_kind::text as audience_kind, audience_id, level, from_at, until_at, created_at
  from grants where taken_back_at is null
  union all
  select id, school_id, folder_id, item_id, 'door', id, 'view'::level, from_at, until_at, created_at
  from doors where closed_at is null);