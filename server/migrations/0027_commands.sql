CREATE TABLE "command" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "command_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"signal_id" integer NOT NULL,
	"device_id" integer NOT NULL,
	"value" jsonb NOT NULL,
	"state" text NOT NULL,
	"requested_at" timestamp (3) with time zone NOT NULL,
	"until" timestamp (3) with time zone NOT NULL,
	"sent_at" timestamp (3) with time zone,
	"settled_at" timestamp (3) with time zone,
	"reported" jsonb,
	"answer" text NOT NULL,
	"person_id" integer,
	"person_name" text,
	"token" text,
	"why" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "command" ADD CONSTRAINT "command_signal_id_signal_id_fk" FOREIGN KEY ("signal_id") REFERENCES "public"."signal"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "command" ADD CONSTRAINT "command_device_id_device_id_fk" FOREIGN KEY ("device_id") REFERENCES "public"."device"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "command" ADD CONSTRAINT "command_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "command_open" ON "command" USING btree ("signal_id") WHERE state in ('requested', 'sent');--> statement-breakpoint
CREATE INDEX "command_signal" ON "command" USING btree ("signal_id","requested_at");--> statement-breakpoint
CREATE INDEX "command_requested" ON "command" USING btree ("requested_at");