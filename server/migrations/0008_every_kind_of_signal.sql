CREATE TABLE "after_commit" (
	"id" bigint GENERATED ALWAYS AS IDENTITY (sequence name "after_commit_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"xid" "xid8" DEFAULT pg_current_xact_id() NOT NULL,
	"kind" smallint NOT NULL,
	"signals" integer[] NOT NULL,
	"from_at" timestamp (3) with time zone[] NOT NULL,
	"to_at" timestamp (3) with time zone[] NOT NULL,
	CONSTRAINT "after_commit_xid_id_pk" PRIMARY KEY("xid","id")
);
--> statement-breakpoint
CREATE TABLE "calibration" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "calibration_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"signal_id" integer NOT NULL,
	"gain" double precision NOT NULL,
	"offset" double precision NOT NULL,
	"valid_from" timestamp (3) with time zone NOT NULL,
	"evidence" text NOT NULL,
	"person_id" integer,
	"taken_back_at" timestamp (3) with time zone,
	"created_at" timestamp (3) with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "dated_event" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "dated_event_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"at" timestamp (3) with time zone NOT NULL,
	"until" timestamp (3) with time zone,
	"kind" text NOT NULL,
	"site_id" integer,
	"kit_id" integer,
	"device_id" integer,
	"signal_id" integer,
	"server" text,
	"person_id" integer,
	"says" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "description_version" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "description_version_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"definition_id" integer NOT NULL,
	"signal_id" integer,
	"valid_from" timestamp (3) with time zone NOT NULL,
	"described" jsonb NOT NULL,
	"person_id" integer
);
--> statement-breakpoint
CREATE TABLE "heard" (
	"device_id" integer PRIMARY KEY NOT NULL,
	"at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "large_change" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "large_change_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"what" jsonb NOT NULL,
	"progress" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"failure" text,
	"finished_at" timestamp (3) with time zone,
	"created_at" timestamp (3) with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "position_reading" (
	"signal_id" integer NOT NULL,
	"quality" smallint NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"received_at" timestamp (3) with time zone NOT NULL,
	"lat" double precision NOT NULL,
	"lon" double precision NOT NULL,
	"height" double precision,
	CONSTRAINT "position_reading_signal_id_at_pk" PRIMARY KEY("signal_id","at")
) PARTITION BY RANGE ("at");
--> statement-breakpoint
CREATE TABLE "text_reading" (
	"signal_id" integer NOT NULL,
	"quality" smallint NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"received_at" timestamp (3) with time zone NOT NULL,
	"value" text COMPRESSION lz4 NOT NULL,
	CONSTRAINT "text_reading_signal_id_at_pk" PRIMARY KEY("signal_id","at")
) PARTITION BY RANGE ("at");
--> statement-breakpoint
ALTER TABLE "signal" DROP CONSTRAINT "signal_device_definition";--> statement-breakpoint
ALTER TABLE "signal_definition" DROP CONSTRAINT "signal_definition_kit_field";--> statement-breakpoint
ALTER TABLE "kit" ADD COLUMN "cadence" jsonb;--> statement-breakpoint
ALTER TABLE "message" ADD COLUMN "by_hand" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "reading" ADD COLUMN "raw" double precision;--> statement-breakpoint
ALTER TABLE "rereading_change" ADD COLUMN "before" jsonb;--> statement-breakpoint
ALTER TABLE "rereading_change" ADD COLUMN "after" jsonb;--> statement-breakpoint
ALTER TABLE "signal" ADD COLUMN "part" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "signal" ADD COLUMN "own" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "signal_definition" ADD COLUMN "origin" text DEFAULT 'measured' NOT NULL;--> statement-breakpoint
ALTER TABLE "signal_definition" ADD COLUMN "choices" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "signal_definition" ADD COLUMN "settings" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "site" ADD COLUMN "lat" double precision;--> statement-breakpoint
ALTER TABLE "site" ADD COLUMN "lon" double precision;--> statement-breakpoint
ALTER TABLE "calibration" ADD CONSTRAINT "calibration_signal_id_signal_id_fk" FOREIGN KEY ("signal_id") REFERENCES "public"."signal"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "calibration" ADD CONSTRAINT "calibration_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dated_event" ADD CONSTRAINT "dated_event_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dated_event" ADD CONSTRAINT "dated_event_kit_id_kit_id_fk" FOREIGN KEY ("kit_id") REFERENCES "public"."kit"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dated_event" ADD CONSTRAINT "dated_event_device_id_device_id_fk" FOREIGN KEY ("device_id") REFERENCES "public"."device"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dated_event" ADD CONSTRAINT "dated_event_signal_id_signal_id_fk" FOREIGN KEY ("signal_id") REFERENCES "public"."signal"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dated_event" ADD CONSTRAINT "dated_event_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "description_version" ADD CONSTRAINT "description_version_definition_id_signal_definition_id_fk" FOREIGN KEY ("definition_id") REFERENCES "public"."signal_definition"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "description_version" ADD CONSTRAINT "description_version_signal_id_signal_id_fk" FOREIGN KEY ("signal_id") REFERENCES "public"."signal"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "description_version" ADD CONSTRAINT "description_version_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "heard" ADD CONSTRAINT "heard_device_id_device_id_fk" FOREIGN KEY ("device_id") REFERENCES "public"."device"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "calibration_signal" ON "calibration" USING btree ("signal_id");--> statement-breakpoint
CREATE INDEX "dated_event_at" ON "dated_event" USING btree ("at");--> statement-breakpoint
CREATE INDEX "dated_event_device" ON "dated_event" USING btree ("device_id","at");--> statement-breakpoint
CREATE UNIQUE INDEX "dated_event_open_drop_out" ON "dated_event" USING btree ("device_id") WHERE kind = 'drop-out' and until is null;--> statement-breakpoint
CREATE INDEX "description_version_definition" ON "description_version" USING btree ("definition_id","valid_from");--> statement-breakpoint
CREATE INDEX "signal_definition_kit" ON "signal_definition" USING btree ("kit_id");--> statement-breakpoint
CREATE UNIQUE INDEX "signal_definition_suggested" ON "signal_definition" USING btree ("kit_id","field") WHERE state = 'suggested';--> statement-breakpoint
ALTER TABLE "signal" ADD CONSTRAINT "signal_device_definition_part" UNIQUE("device_id","definition_id","part");
--> statement-breakpoint
UPDATE "kit" SET "cadence" = jsonb_build_object('by', 'always', 'seconds', "cadence_seconds") WHERE "cadence_seconds" IS NOT NULL;--> statement-breakpoint
UPDATE "signal_definition" SET "settings" = jsonb_strip_nulls(jsonb_build_object('unit', "unit")) || jsonb_build_object('range', jsonb_build_object('low', "range_low", 'high', "range_high"), 'storing', "keep");--> statement-breakpoint
INSERT INTO "description_version" ("definition_id", "valid_from", "described")
  SELECT "id", "created_at", jsonb_build_object('name', "name", 'field', "field", 'kind', "kind", 'origin', "origin", 'choices', "choices", 'settings', "settings") FROM "signal_definition" WHERE "state" <> 'suggested';--> statement-breakpoint
UPDATE "message" SET "by_hand" = true WHERE "door" = 'file';--> statement-breakpoint
UPDATE "rereading_change" SET
  "before" = CASE WHEN "value_before" IS NOT NULL THEN jsonb_build_object('value', "value_before", 'quality', "quality_before") END,
  "after" = CASE WHEN "value_after" IS NOT NULL THEN jsonb_build_object('value', "value_after", 'quality', "quality_after") END;--> statement-breakpoint
ALTER TABLE "kit" DROP COLUMN "cadence_seconds";--> statement-breakpoint
ALTER TABLE "rereading_change" DROP COLUMN "value_before";--> statement-breakpoint
ALTER TABLE "rereading_change" DROP COLUMN "quality_before";--> statement-breakpoint
ALTER TABLE "rereading_change" DROP COLUMN "value_after";--> statement-breakpoint
ALTER TABLE "rereading_change" DROP COLUMN "quality_after";--> statement-breakpoint
ALTER TABLE "signal_definition" DROP COLUMN "unit";--> statement-breakpoint
ALTER TABLE "signal_definition" DROP COLUMN "range_low";--> statement-breakpoint
ALTER TABLE "signal_definition" DROP COLUMN "range_high";--> statement-breakpoint
ALTER TABLE "signal_definition" DROP COLUMN "keep";
