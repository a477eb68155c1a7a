ALTER TABLE "classes" ADD COLUMN "language" text;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "show_while_writing" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "versions" ADD COLUMN "while_writing" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "classes" ADD CONSTRAINT "classes_language" CHECK ("classes"."language" in ('en', 'de'));