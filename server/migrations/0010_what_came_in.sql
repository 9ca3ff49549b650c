CREATE TABLE "arrival_count" (
	"site_id" integer NOT NULL,
	"minute" integer NOT NULL,
	"readings" integer NOT NULL,
	CONSTRAINT "arrival_count_site_id_minute_pk" PRIMARY KEY("site_id","minute")
);
--> statement-breakpoint
CREATE TABLE "signal_heard" (
	"signal_id" integer PRIMARY KEY NOT NULL,
	"at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "after_commit" ADD COLUMN "heard_signals" integer[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "after_commit" ADD COLUMN "heard_at" timestamp (3) with time zone[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "after_commit" ADD COLUMN "heard" integer[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "after_commit" ADD COLUMN "thinned" json;--> statement-breakpoint
ALTER TABLE "arrival_count" ADD CONSTRAINT "arrival_count_site_id_site_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."site"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "signal_heard" ADD CONSTRAINT "signal_heard_signal_id_signal_id_fk" FOREIGN KEY ("signal_id") REFERENCES "public"."signal"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "signal_heard" SET (fillfactor = 50);
