ALTER TYPE "public"."log_act" ADD VALUE 'merged';--> statement-breakpoint
ALTER TYPE "public"."log_act" ADD VALUE 'erased';--> statement-breakpoint
ALTER TABLE "people" ADD COLUMN "erased_at" timestamp with time zone;