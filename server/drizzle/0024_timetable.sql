CREATE TABLE "lessons" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"class_id" uuid NOT NULL,
	"weekday" smallint NOT NULL,
	"period" smallint NOT NULL,
	CONSTRAINT "lessons_once" UNIQUE("class_id","weekday","period"),
	CONSTRAINT "lessons_weekday" CHECK ("lessons"."weekday" between 1 and 7),
	CONSTRAINT "lessons_period" CHECK ("lessons"."period" between 1 and 20)
);
--> statement-breakpoint
CREATE TABLE "school_days" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"kind" text NOT NULL,
	"title" text NOT NULL,
	"first_day" date NOT NULL,
	"last_day" date NOT NULL,
	CONSTRAINT "school_days_kind" CHECK ("school_days"."kind" in ('term', 'off')),
	CONSTRAINT "school_days_title" CHECK (length("school_days"."title") between 1 and 60),
	CONSTRAINT "school_days_span" CHECK ("school_days"."first_day" <= "school_days"."last_day")
);
--> statement-breakpoint
ALTER TABLE "lessons" ADD CONSTRAINT "lessons_school_id_class_id_classes_school_id_id_fk" FOREIGN KEY ("school_id","class_id") REFERENCES "public"."classes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "school_days" ADD CONSTRAINT "school_days_school_id_schools_id_fk" FOREIGN KEY ("school_id") REFERENCES "public"."schools"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "school_days_school_id_first_day_index" ON "school_days" USING btree ("school_id","first_day");