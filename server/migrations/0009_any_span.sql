CREATE TABLE "consumer" (
	"name" text PRIMARY KEY NOT NULL,
	"seen" "pg_snapshot" NOT NULL,
	"cluster" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "due_page" (
	"signal_id" integer NOT NULL,
	"page" integer NOT NULL,
	"since" timestamp (3) with time zone NOT NULL,
	CONSTRAINT "due_page_signal_id_page_pk" PRIMARY KEY("signal_id","page")
);
--> statement-breakpoint
CREATE TABLE "rollup_page" (
	"signal_id" integer NOT NULL,
	"level" integer NOT NULL,
	"page" integer NOT NULL,
	"body" "bytea" NOT NULL,
	CONSTRAINT "rollup_page_signal_id_level_page_pk" PRIMARY KEY("signal_id","level","page")
);
--> statement-breakpoint
ALTER TABLE "due_page" ADD CONSTRAINT "due_page_signal_id_signal_id_fk" FOREIGN KEY ("signal_id") REFERENCES "public"."signal"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rollup_page" ADD CONSTRAINT "rollup_page_signal_id_signal_id_fk" FOREIGN KEY ("signal_id") REFERENCES "public"."signal"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "due_page_oldest" ON "due_page" USING btree ("page");--> statement-breakpoint
ALTER TABLE "rollup_page" SET (fillfactor = 85, toast_tuple_target = 8160);--> statement-breakpoint
ALTER TABLE "rollup_page" ALTER COLUMN "body" SET COMPRESSION lz4;--> statement-breakpoint
INSERT INTO "consumer" ("name", "seen", "cluster") SELECT 'rollups', pg_current_snapshot(), system_identifier FROM pg_control_system();--> statement-breakpoint
INSERT INTO "due_page" ("signal_id", "page", "since")
  SELECT DISTINCT "signal_id", floor(extract(epoch from "at") / 3600)::int, now() FROM "reading" JOIN "signal" ON "signal"."id" = "reading"."signal_id";
