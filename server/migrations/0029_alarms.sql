CREATE TABLE "alarm" (
	"id" text PRIMARY KEY NOT NULL,
	"signal_id" integer,
	"device_id" integer,
	"judged_by" text NOT NULL,
	"standing" jsonb NOT NULL,
	"watch" jsonb NOT NULL,
	"is_normal" boolean NOT NULL,
	"raised_at" timestamp (3) with time zone,
	"returned_at" timestamp (3) with time zone,
	"changed_at" timestamp (3) with time zone,
	"value" double precision,
	"worst" double precision,
	"limit" double precision,
	"acknowledged" jsonb
);
--> statement-breakpoint
CREATE TABLE "alarm_act" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "alarm_act_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"alarm_id" text NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"move" text NOT NULL,
	"state" text NOT NULL,
	"value" double precision,
	"person_id" integer,
	"person_name" text,
	"word" text DEFAULT '' NOT NULL,
	"until" timestamp (3) with time zone
);
--> statement-breakpoint
CREATE TABLE "alarm_turn" (
	"id" integer PRIMARY KEY NOT NULL,
	"turn" bigint NOT NULL,
	"looked_at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "dated_event" ADD COLUMN "alarm_id" text;--> statement-breakpoint
ALTER TABLE "alarm" ADD CONSTRAINT "alarm_signal_id_signal_id_fk" FOREIGN KEY ("signal_id") REFERENCES "public"."signal"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "alarm" ADD CONSTRAINT "alarm_device_id_device_id_fk" FOREIGN KEY ("device_id") REFERENCES "public"."device"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "alarm_act" ADD CONSTRAINT "alarm_act_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "alarm_signal" ON "alarm" USING btree ("signal_id");--> statement-breakpoint
CREATE INDEX "alarm_not_normal" ON "alarm" USING btree ("is_normal");--> statement-breakpoint
CREATE INDEX "alarm_act_alarm" ON "alarm_act" USING btree ("alarm_id","id");--> statement-breakpoint
CREATE INDEX "alarm_act_at" ON "alarm_act" USING btree ("at");--> statement-breakpoint
CREATE UNIQUE INDEX "alarm_act_late" ON "alarm_act" USING btree ("alarm_id","at") WHERE move = 'late';--> statement-breakpoint
CREATE UNIQUE INDEX "dated_event_open_alarm" ON "dated_event" USING btree ("alarm_id") WHERE kind = 'alarm' and until is null;--> statement-breakpoint
CREATE UNIQUE INDEX "dated_event_alarm" ON "dated_event" USING btree ("alarm_id","kind","at") WHERE alarm_id is not null;