ALTER TABLE "device" ADD COLUMN "messages_per_minute" integer;--> statement-breakpoint
ALTER TABLE "device" ADD COLUMN "readings_per_minute" integer;--> statement-breakpoint
ALTER TABLE "device" ADD COLUMN "message_bytes" integer;