ALTER TABLE "kept" DROP CONSTRAINT "kept_target";--> statement-breakpoint
ALTER TABLE "kept" ADD COLUMN "class_id" uuid;--> statement-breakpoint
ALTER TABLE "kept" ADD CONSTRAINT "kept_school_id_class_id_classes_school_id_id_fk" FOREIGN KEY ("school_id","class_id") REFERENCES "public"."classes"("school_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "kept_class" ON "kept" USING btree ("person_id","class_id");--> statement-breakpoint
ALTER TABLE "kept" ADD CONSTRAINT "kept_target" CHECK (num_nonnulls("kept"."folder_id", "kept"."item_id", "kept"."class_id") = 1);