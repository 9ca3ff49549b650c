CREATE TABLE "notice" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "notice_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"uuid" text NOT NULL,
	"way_id" integer,
	"way_name" text NOT NULL,
	"way_kind" text NOT NULL,
	"site_id" integer,
	"kind" text NOT NULL,
	"state" text NOT NULL,
	"subject" text DEFAULT '' NOT NULL,
	"text" text DEFAULT '' NOT NULL,
	"count" integer DEFAULT 0 NOT NULL,
	"created_at" timestamp (3) with time zone NOT NULL,
	"due_at" timestamp (3) with time zone,
	"sent_at" timestamp (3) with time zone,
	"attempts" integer DEFAULT 0 NOT NULL,
	"answer" text DEFAULT '' NOT NULL,
	"token" text,
	"token_hash" "bytea",
	"seen_at" timestamp (3) with time zone
);
--> statement-breakpoint
CREATE TABLE "notice_told" (
	"way_id" integer NOT NULL,
	"alarm_id" text NOT NULL,
	"raised_at" timestamp (3) with time zone NOT NULL,
	"notice_id" integer NOT NULL,
	"line" jsonb NOT NULL,
	"over_at" timestamp (3) with time zone,
	"over_notice_id" integer,
	CONSTRAINT "notice_told_way_id_alarm_id_raised_at_pk" PRIMARY KEY("way_id","alarm_id","raised_at")
);
--> statement-breakpoint
CREATE TABLE "notice_way" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "notice_way_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer,
	"kind" text NOT NULL,
	"name" text NOT NULL,
	"target" text NOT NULL,
	"secret" text,
	"subscription" jsonb,
	"tellings" jsonb NOT NULL,
	"person_id" integer,
	"created_at" timestamp (3) with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "server_secret" (
	"name" text PRIMARY KEY NOT NULL,
	"value" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "notice" ADD CONSTRAINT "notice_way_id_notice_way_id_fk" FOREIGN KEY ("way_id") REFERENCES "public"."notice_way"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notice" ADD CONSTRAINT "notice_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notice_told" ADD CONSTRAINT "notice_told_way_id_notice_way_id_fk" FOREIGN KEY ("way_id") REFERENCES "public"."notice_way"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notice_told" ADD CONSTRAINT "notice_told_notice_id_notice_id_fk" FOREIGN KEY ("notice_id") REFERENCES "public"."notice"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notice_told" ADD CONSTRAINT "notice_told_over_notice_id_notice_id_fk" FOREIGN KEY ("over_notice_id") REFERENCES "public"."notice"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notice_way" ADD CONSTRAINT "notice_way_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notice_way" ADD CONSTRAINT "notice_way_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "notice_due" ON "notice" USING btree ("due_at") WHERE state in ('gathers', 'waits');--> statement-breakpoint
CREATE INDEX "notice_of_way" ON "notice" USING btree ("way_id","id");--> statement-breakpoint
CREATE UNIQUE INDEX "notice_gathers" ON "notice" USING btree ("way_id","kind") WHERE state = 'gathers';--> statement-breakpoint
CREATE UNIQUE INDEX "notice_token" ON "notice" USING btree ("token_hash");--> statement-breakpoint
CREATE INDEX "notice_told_notice" ON "notice_told" USING btree ("notice_id");--> statement-breakpoint
CREATE INDEX "notice_told_over" ON "notice_told" USING btree ("over_notice_id");--> statement-breakpoint
CREATE INDEX "notice_told_open" ON "notice_told" USING btree ("alarm_id") WHERE over_at is null;