ALTER TYPE "public"."log_act" ADD VALUE 'passkey';--> statement-breakpoint
ALTER TYPE "public"."log_act" ADD VALUE 'passkey-removed';--> statement-breakpoint
CREATE TABLE "passkeys" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"user_id" uuid NOT NULL,
	"name" text NOT NULL,
	"credential_id" text NOT NULL,
	"public_key" text NOT NULL,
	"counter" bigint NOT NULL,
	"transports" text[] NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"used_at" timestamp with time zone,
	CONSTRAINT "passkeys_credentialId_unique" UNIQUE("credential_id")
);
--> statement-breakpoint
ALTER TABLE "passkeys" ADD CONSTRAINT "passkeys_user_id_people_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "passkeys_user_id_index" ON "passkeys" USING btree ("user_id");--> statement-breakpoint
CREATE FUNCTION log_passkeys() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  r passkeys := CASE WHEN TG_OP = 'DELETE' THEN OLD ELSE NEW END;
BEGIN
  IF log_rests() THEN RETURN NULL; END IF;
  -- Whose account goes with it, has no entry of their own any more.
  INSERT INTO log (school_id, at, by_id, act, audience, person_id)
  SELECT school_id, log_at(NULL), log_by(NULL), (CASE WHEN TG_OP = 'DELETE' THEN 'passkey-removed' ELSE 'passkey' END)::log_act, 'person', id
  FROM people WHERE id = r.user_id;
  RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER log_change AFTER INSERT OR DELETE ON passkeys FOR EACH ROW EXECUTE FUNCTION log_passkeys();
