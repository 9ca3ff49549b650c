CREATE TABLE "derived" (
	"signal_id" integer PRIMARY KEY NOT NULL,
	"found" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "derived_input" (
	"signal_id" integer NOT NULL,
	"input_id" integer NOT NULL,
	"reach" double precision NOT NULL,
	CONSTRAINT "derived_input_signal_id_input_id_pk" PRIMARY KEY("signal_id","input_id")
);
--> statement-breakpoint
CREATE TABLE "due_derived" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "due_derived_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"signal_id" integer NOT NULL,
	"from_at" double precision NOT NULL,
	"to_at" double precision NOT NULL,
	"is_past" boolean NOT NULL,
	"not_before" timestamp (3) with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "derived" ADD CONSTRAINT "derived_signal_id_signal_id_fk" FOREIGN KEY ("signal_id") REFERENCES "public"."signal"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "derived_input" ADD CONSTRAINT "derived_input_signal_id_derived_signal_id_fk" FOREIGN KEY ("signal_id") REFERENCES "public"."derived"("signal_id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "derived_input" ADD CONSTRAINT "derived_input_input_id_signal_id_fk" FOREIGN KEY ("input_id") REFERENCES "public"."signal"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "due_derived" ADD CONSTRAINT "due_derived_signal_id_signal_id_fk" FOREIGN KEY ("signal_id") REFERENCES "public"."signal"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "derived_input_input" ON "derived_input" USING btree ("input_id");--> statement-breakpoint
CREATE INDEX "due_derived_not_before" ON "due_derived" USING btree ("not_before");--> statement-breakpoint
-- It could be said of a signal before there was a way to derive one.
UPDATE "signal_definition" SET "origin" = 'measured' WHERE "origin" = 'derived';
