ALTER TABLE "people" ADD COLUMN "deactivated_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "schools" ADD COLUMN "language" text;--> statement-breakpoint
CREATE INDEX "people_listed" ON "people" USING btree ("school_id","name" collate natural_order,"id");