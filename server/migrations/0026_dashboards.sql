CREATE TABLE "dashboard" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "dashboard_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"site_id" integer NOT NULL,
	"person_id" integer,
	"name" text NOT NULL,
	"role" text NOT NULL,
	"version" integer NOT NULL,
	"shows" jsonb NOT NULL,
	"published_at" timestamp (3) with time zone NOT NULL,
	"by" text
);
--> statement-breakpoint
CREATE TABLE "dashboard_version" (
	"dashboard_id" integer NOT NULL,
	"version" integer NOT NULL,
	"shows" jsonb NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"by" text,
	CONSTRAINT "dashboard_version_dashboard_id_version_pk" PRIMARY KEY("dashboard_id","version")
);
--> statement-breakpoint
ALTER TABLE "share_link" ALTER COLUMN "device_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "share_link" ADD COLUMN "dashboard_id" integer;--> statement-breakpoint
ALTER TABLE "share_link" ADD COLUMN "instrument_id" text;--> statement-breakpoint
ALTER TABLE "dashboard" ADD CONSTRAINT "dashboard_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dashboard" ADD CONSTRAINT "dashboard_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "dashboard_version" ADD CONSTRAINT "dashboard_version_dashboard_id_dashboard_id_fk" FOREIGN KEY ("dashboard_id") REFERENCES "public"."dashboard"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "dashboard_site" ON "dashboard" USING btree ("site_id");--> statement-breakpoint
ALTER TABLE "share_link" ADD CONSTRAINT "share_link_dashboard_id_dashboard_id_fk" FOREIGN KEY ("dashboard_id") REFERENCES "public"."dashboard"("id") ON DELETE cascade ON UPDATE no action;