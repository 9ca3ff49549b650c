ALTER TABLE "device" ADD COLUMN "part_names" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "device" ADD COLUMN "retired_at" timestamp (3) with time zone;