CREATE TABLE "serial_port" (
	"device_id" integer PRIMARY KEY NOT NULL,
	"path" text NOT NULL,
	"speed" integer NOT NULL,
	"csv_header" text,
	CONSTRAINT "serial_port_path_unique" UNIQUE("path")
);
--> statement-breakpoint
ALTER TABLE "serial_port" ADD CONSTRAINT "serial_port_device_id_device_id_fk" FOREIGN KEY ("device_id") REFERENCES "public"."device"("id") ON DELETE cascade ON UPDATE no action;