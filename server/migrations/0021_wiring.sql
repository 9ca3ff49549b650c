ALTER TABLE "kit" ADD COLUMN "notes" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "kit" ADD COLUMN "wiring" jsonb DEFAULT '[]'::jsonb NOT NULL;