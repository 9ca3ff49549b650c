CREATE TABLE "message" (
	"id" bigint NOT NULL,
	"received_at" timestamp (3) with time zone NOT NULL,
	"door" text NOT NULL,
	"device_id" integer NOT NULL,
	"sender" text NOT NULL,
	"media_type" text NOT NULL,
	"tail" text NOT NULL,
	"body" "bytea" NOT NULL,
	"outcome" text NOT NULL,
	"stored" integer NOT NULL,
	"reason" text NOT NULL,
	CONSTRAINT "message_device_id_id_received_at_pk" PRIMARY KEY("device_id","id","received_at")
) PARTITION BY RANGE ("received_at");
--> statement-breakpoint
ALTER TABLE "message" ALTER COLUMN "body" SET COMPRESSION lz4;
