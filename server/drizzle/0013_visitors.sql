ALTER TYPE "public"."request_answer" ADD VALUE 'link' BEFORE 'no';--> statement-breakpoint
ALTER TABLE "mails" ALTER COLUMN "person_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "requests" ALTER COLUMN "person_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "mails" ADD COLUMN "to_name" text;--> statement-breakpoint
ALTER TABLE "mails" ADD COLUMN "to_email" text;--> statement-breakpoint
ALTER TABLE "requests" ADD COLUMN "visitor_name" text;--> statement-breakpoint
ALTER TABLE "requests" ADD COLUMN "visitor_email" text;--> statement-breakpoint
ALTER TABLE "requests" ADD COLUMN "visitor_language" text;--> statement-breakpoint
CREATE UNIQUE INDEX "requests_visitor_open" ON "requests" USING btree (lower("visitor_email"),coalesce("folder_id", "item_id")) WHERE "requests"."answer" is null and "requests"."visitor_email" is not null;--> statement-breakpoint
ALTER TABLE "mails" ADD CONSTRAINT "mails_to" CHECK (num_nonnulls("mails"."person_id", "mails"."to_email") = 1 and num_nonnulls("mails"."to_name", "mails"."to_email") in (0, 2));--> statement-breakpoint
ALTER TABLE "requests" ADD CONSTRAINT "requests_asker" CHECK (num_nonnulls("requests"."person_id", "requests"."visitor_email") = 1
        and num_nonnulls("requests"."visitor_name", "requests"."visitor_email", "requests"."visitor_language") in (0, 3));