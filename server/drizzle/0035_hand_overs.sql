CREATE TABLE "hand_overs" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"school_id" uuid NOT NULL,
	"from_id" uuid NOT NULL,
	"to_id" uuid NOT NULL,
	"folder_id" uuid,
	"top_folders" uuid[] NOT NULL,
	"items" uuid[] NOT NULL,
	"entries" uuid[] NOT NULL,
	"doors" uuid[] NOT NULL,
	"courses" uuid[] NOT NULL,
	"created_by" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"undone_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "hand_overs" ADD CONSTRAINT "hand_overs_school_id_from_id_people_school_id_id_fk" FOREIGN KEY ("school_id","from_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hand_overs" ADD CONSTRAINT "hand_overs_school_id_to_id_people_school_id_id_fk" FOREIGN KEY ("school_id","to_id") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hand_overs" ADD CONSTRAINT "hand_overs_school_id_created_by_people_school_id_id_fk" FOREIGN KEY ("school_id","created_by") REFERENCES "public"."people"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "hand_overs_from_id_index" ON "hand_overs" USING btree ("from_id");