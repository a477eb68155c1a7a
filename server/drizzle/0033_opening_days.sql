CREATE TABLE "opening_days" (
	"school_id" uuid NOT NULL,
	"placement_id" uuid NOT NULL,
	"version_id" uuid,
	"kind" "opening_kind" NOT NULL,
	"day" date NOT NULL,
	"people" integer[] NOT NULL
);
--> statement-breakpoint
ALTER TABLE "people" ADD COLUMN "number" integer NOT NULL GENERATED ALWAYS AS IDENTITY (sequence name "people_number_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1);--> statement-breakpoint
ALTER TABLE "schools" ADD COLUMN "openings_packed_until" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "opening_days" ADD CONSTRAINT "opening_days_school_id_placement_id_placements_school_id_id_fk" FOREIGN KEY ("school_id","placement_id") REFERENCES "public"."placements"("school_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "opening_days" ADD CONSTRAINT "opening_days_school_id_version_id_versions_school_id_id_fk" FOREIGN KEY ("school_id","version_id") REFERENCES "public"."versions"("school_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "opening_days_placement_id_day_index" ON "opening_days" USING btree ("placement_id","day");--> statement-breakpoint
CREATE INDEX "opening_days_version_id_index" ON "opening_days" USING btree ("version_id");--> statement-breakpoint
CREATE INDEX "opening_days_day_index" ON "opening_days" USING btree ("day");--> statement-breakpoint
ALTER TABLE "people" ADD CONSTRAINT "people_number_unique" UNIQUE("number");