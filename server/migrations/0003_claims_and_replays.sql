CREATE TABLE "claim" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "claim_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"key_id" integer NOT NULL,
	"by" text NOT NULL,
	"place" text NOT NULL,
	"value" text,
	"part" text DEFAULT '' NOT NULL,
	"device_id" integer,
	"created_at" timestamp (3) with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "replay" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "replay_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"device_id" integer NOT NULL,
	"messages" integer NOT NULL,
	"added" integer NOT NULL,
	"changed" integer NOT NULL,
	"removed" integer NOT NULL,
	"undone_at" timestamp (3) with time zone,
	"created_at" timestamp (3) with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "replay_change" (
	"replay_id" integer NOT NULL,
	"signal_id" integer NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"received_at" timestamp (3) with time zone NOT NULL,
	"value_before" double precision,
	"quality_before" smallint,
	"value_after" double precision,
	"quality_after" smallint,
	CONSTRAINT "replay_change_replay_id_signal_id_at_pk" PRIMARY KEY("replay_id","signal_id","at")
);
--> statement-breakpoint
ALTER TABLE "device" ADD COLUMN "reach" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "message" ADD COLUMN "topic" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "claim" ADD CONSTRAINT "claim_key_id_device_id_fk" FOREIGN KEY ("key_id") REFERENCES "public"."device"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "claim" ADD CONSTRAINT "claim_device_id_device_id_fk" FOREIGN KEY ("device_id") REFERENCES "public"."device"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "replay" ADD CONSTRAINT "replay_device_id_device_id_fk" FOREIGN KEY ("device_id") REFERENCES "public"."device"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "replay_change" ADD CONSTRAINT "replay_change_replay_id_replay_id_fk" FOREIGN KEY ("replay_id") REFERENCES "public"."replay"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "message_unclaimed" ON "message" USING btree ("device_id","id") WHERE outcome = 'unclaimed';