CREATE TABLE "remark_reads" (
	"school_id" uuid NOT NULL,
	"placement_id" uuid NOT NULL,
	"person_id" uuid NOT NULL,
	"read_at" timestamp with time zone NOT NULL,
	CONSTRAINT "remark_reads_person_id_placement_id_pk" PRIMARY KEY("person_id","placement_id")
);
--> statement-breakpoint
CREATE TABLE "remarks" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"placement_id" uuid NOT NULL,
	"version" integer,
	"reply_to" uuid,
	"page" integer,
	"x" double precision,
	"y" double precision,
	"body" text NOT NULL,
	"created_by" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"edited_at" timestamp with time zone,
	"removed_at" timestamp with time zone,
	CONSTRAINT "remarks_schoolId_id_unique" UNIQUE("school_id","id"),
	CONSTRAINT "remarks_body" CHECK (length("remarks"."body") between 1 and 5000),
	CONSTRAINT "remarks_point" CHECK (num_nonnulls("remarks"."page", "remarks"."x", "remarks"."y") in (0, 3) and "remarks"."page" > 0 and "remarks"."x" between 0 and 1 and "remarks"."y" between 0 and 1)
);
--> statement-breakpoint
ALTER TABLE "teacher_settings" ADD COLUMN "phrases" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "remark_reads" ADD CONSTRAINT "remark_reads_school_id_placement_id_placements_school_id_id_fk" FOREIGN KEY ("school_id","placement_id") REFERENCES "public"."placements"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "remark_reads" ADD CONSTRAINT "remark_reads_school_id_person_id_people_school_id_id_fk" FOREIGN KEY ("school_id","person_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "remarks" ADD CONSTRAINT "remarks_school_id_placement_id_placements_school_id_id_fk" FOREIGN KEY ("school_id","placement_id") REFERENCES "public"."placements"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "remarks" ADD CONSTRAINT "remarks_school_id_reply_to_remarks_school_id_id_fk" FOREIGN KEY ("school_id","reply_to") REFERENCES "public"."remarks"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "remarks" ADD CONSTRAINT "remarks_school_id_created_by_people_school_id_id_fk" FOREIGN KEY ("school_id","created_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "remark_reads_placement_id_index" ON "remark_reads" USING btree ("placement_id");--> statement-breakpoint
CREATE INDEX "remarks_placement_id_index" ON "remarks" USING btree ("placement_id");