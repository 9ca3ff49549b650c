CREATE TABLE "heartbeat" (
	"server" text PRIMARY KEY NOT NULL,
	"at" timestamp (3) with time zone,
	"beaten_at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "retained_presence" (
	"device_id" integer PRIMARY KEY NOT NULL,
	"payload" "bytea" NOT NULL,
	"qos" smallint NOT NULL
);
--> statement-breakpoint
ALTER TABLE "serial_port" DROP CONSTRAINT "serial_port_path_unique";--> statement-breakpoint
ALTER TABLE "serial_port" ADD COLUMN "server" text;--> statement-breakpoint
ALTER TABLE "retained_presence" ADD CONSTRAINT "retained_presence_device_id_device_id_fk" FOREIGN KEY ("device_id") REFERENCES "public"."device"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "serial_port" ADD CONSTRAINT "serial_port_server_path" UNIQUE("server","path");