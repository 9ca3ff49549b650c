ALTER TABLE "device" ADD COLUMN "former_secret_hash" "bytea";--> statement-breakpoint
ALTER TABLE "device" ADD COLUMN "former_secret_until" timestamp (3) with time zone;