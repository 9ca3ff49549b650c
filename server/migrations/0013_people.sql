CREATE TABLE "invitation" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "invitation_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"token_hash" "bytea" NOT NULL,
	"role" text NOT NULL,
	"site_ids" integer[],
	"note" text DEFAULT '' NOT NULL,
	"person_id" integer NOT NULL,
	"expires_at" timestamp (3) with time zone NOT NULL,
	CONSTRAINT "invitation_token_hash_unique" UNIQUE("token_hash")
);
--> statement-breakpoint
CREATE TABLE "membership" (
	"person_id" integer NOT NULL,
	"site_id" integer,
	"role" text NOT NULL,
	CONSTRAINT "membership_person_site" UNIQUE NULLS NOT DISTINCT("person_id","site_id")
);
--> statement-breakpoint
CREATE TABLE "program_token" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "program_token_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"token_hash" "bytea" NOT NULL,
	"name" text NOT NULL,
	"person_id" integer NOT NULL,
	"scopes" text[] NOT NULL,
	"site_ids" integer[],
	"device_ids" integer[] DEFAULT '{}' NOT NULL,
	"expires_at" timestamp (3) with time zone,
	"used_at" timestamp (3) with time zone,
	"created_at" timestamp (3) with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "program_token_token_hash_unique" UNIQUE("token_hash")
);
--> statement-breakpoint
CREATE TABLE "share_link" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "share_link_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"token_hash" "bytea" NOT NULL,
	"name" text NOT NULL,
	"device_id" integer NOT NULL,
	"signal_id" integer,
	"past" text NOT NULL,
	"frame_ancestors" text[] DEFAULT '{}' NOT NULL,
	"person_id" integer,
	"expires_at" timestamp (3) with time zone,
	"looks" integer DEFAULT 0 NOT NULL,
	"looked_at" timestamp (3) with time zone,
	"created_at" timestamp (3) with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "share_link_token_hash_unique" UNIQUE("token_hash")
);
--> statement-breakpoint
ALTER TABLE "dated_event" ADD COLUMN "person_name" text;--> statement-breakpoint
ALTER TABLE "dated_event" ADD COLUMN "token" text;--> statement-breakpoint
ALTER TABLE "dated_event" ADD COLUMN "change" jsonb;--> statement-breakpoint
ALTER TABLE "person" ADD COLUMN "preferences" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "session" ADD COLUMN "id" integer NOT NULL GENERATED ALWAYS AS IDENTITY (sequence name "session_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1);--> statement-breakpoint
ALTER TABLE "session" ADD COLUMN "used_at" timestamp (3) with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "session" ADD COLUMN "browser" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "session" ADD COLUMN "by_link" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "invitation" ADD CONSTRAINT "invitation_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "membership" ADD CONSTRAINT "membership_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "membership" ADD CONSTRAINT "membership_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "program_token" ADD CONSTRAINT "program_token_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "share_link" ADD CONSTRAINT "share_link_device_id_device_id_fk" FOREIGN KEY ("device_id") REFERENCES "public"."device"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "share_link" ADD CONSTRAINT "share_link_signal_id_signal_id_fk" FOREIGN KEY ("signal_id") REFERENCES "public"."signal"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "share_link" ADD CONSTRAINT "share_link_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "membership_site" ON "membership" USING btree ("site_id");--> statement-breakpoint
CREATE INDEX "share_link_device" ON "share_link" USING btree ("device_id");--> statement-breakpoint
CREATE INDEX "dated_event_site" ON "dated_event" USING btree ("site_id","at");--> statement-breakpoint
ALTER TABLE "session" ADD CONSTRAINT "session_id_unique" UNIQUE("id");