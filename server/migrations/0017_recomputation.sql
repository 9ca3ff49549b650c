CREATE TABLE "recomputation" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "recomputation_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"signal_id" integer NOT NULL,
	"from_at" timestamp (3) with time zone NOT NULL,
	"to_at" timestamp (3) with time zone NOT NULL,
	"conversion" text,
	"changed" integer DEFAULT 0 NOT NULL,
	"done_at" timestamp (3) with time zone,
	"undone_at" timestamp (3) with time zone,
	"person_id" integer,
	"created_at" timestamp (3) with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "recomputation_piece" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "recomputation_piece_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"recomputation_id" integer NOT NULL,
	"at" double precision[] NOT NULL,
	"value" double precision[] NOT NULL,
	"quality" smallint[] NOT NULL
);
--> statement-breakpoint
ALTER TABLE "recomputation" ADD CONSTRAINT "recomputation_signal_id_signal_id_fk" FOREIGN KEY ("signal_id") REFERENCES "public"."signal"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "recomputation" ADD CONSTRAINT "recomputation_person_id_person_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."person"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "recomputation_piece" ADD CONSTRAINT "recomputation_piece_recomputation_id_recomputation_id_fk" FOREIGN KEY ("recomputation_id") REFERENCES "public"."recomputation"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "recomputation_signal" ON "recomputation" USING btree ("signal_id");--> statement-breakpoint
CREATE INDEX "recomputation_piece_of" ON "recomputation_piece" USING btree ("recomputation_id");