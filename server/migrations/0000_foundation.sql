CREATE TABLE "device" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "device_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"kit_id" integer NOT NULL,
	"name" text NOT NULL,
	"address" text NOT NULL,
	"secret_hash" "bytea" NOT NULL,
	"created_at" timestamp (3) with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "device_address_unique" UNIQUE("address")
);
--> statement-breakpoint
CREATE TABLE "kit" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "kit_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text,
	"cadence_seconds" double precision,
	"created_at" timestamp (3) with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "kit_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "person" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "person_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"password_hash" text NOT NULL,
	"role" text NOT NULL,
	"created_at" timestamp (3) with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "person_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "reading" (
	"signal_id" integer NOT NULL,
	"quality" smallint NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"received_at" timestamp (3) with time zone NOT NULL,
	"value" double precision NOT NULL,
	CONSTRAINT "reading_signal_id_at_pk" PRIMARY KEY("signal_id","at")
) PARTITION BY RANGE ("at");
--> statement-breakpoint
CREATE TABLE "session" (
	"token_hash" "bytea" PRIMARY KEY NOT NULL,
	"person_id" integer NOT NULL,
	"csrf_token" text NOT NULL,
	"expires_at" timestamp (3) with time zone NOT NULL,
	"created_at" timestamp (3) with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "sign_in_link" (
	"token_hash" "bytea" PRIMARY KEY NOT NULL,
	"person_id" integer NOT NULL,
	"expires_at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "signal" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "signal_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"device_id" integer NOT NULL,
	"definition_id" integer NOT NULL,
	CONSTRAINT "signal_device_definition" UNIQUE("device_id","definition_id")
);
--> statement-breakpoint
CREATE TABLE "signal_definition" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "signal_definition_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"kit_id" integer NOT NULL,
	"field" text NOT NULL,
	"name" text NOT NULL,
	"kind" text NOT NULL,
	"state" text NOT NULL,
	"unit" text,
	"range_low" double precision,
	"range_high" double precision,
	"created_at" timestamp (3) with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "signal_definition_kit_field" UNIQUE("kit_id","field")
);
--> statement-breakpoint
CREATE TABLE "site" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "site_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"time_zone" text NOT NULL,
	"created_at" timestamp (3) with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "site_name_unique" UNIQUE("name")
);
--> statement-breakpoint
ALTER TABLE "device" ADD CONSTRAINT "device_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "device" ADD CONSTRAINT "device_kit_id_kit_id_fk" FOREIGN KEY ("kit_id") REFERENCES "public"."kit"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "session" ADD CONSTRAINT "session_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sign_in_link" ADD CONSTRAINT "sign_in_link_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "signal" ADD CONSTRAINT "signal_device_id_device_id_fk" FOREIGN KEY ("device_id") REFERENCES "public"."device"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "signal" ADD CONSTRAINT "signal_definition_id_signal_definition_id_fk" FOREIGN KEY ("definition_id") REFERENCES "public"."signal_definition"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "signal_definition" ADD CONSTRAINT "signal_definition_kit_id_kit_id_fk" FOREIGN KEY ("kit_id") REFERENCES "public"."kit"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "session_expires_at" ON "session" USING btree ("expires_at");