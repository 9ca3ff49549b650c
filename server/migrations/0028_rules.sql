CREATE TABLE "rule" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "rule_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"signal_id" integer NOT NULL,
	"name" text NOT NULL,
	"place" integer NOT NULL,
	"mode" text NOT NULL,
	"rule" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "rule_act" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "rule_act_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"rule_id" integer NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"kind" text NOT NULL,
	"is_acting" boolean,
	"is_trial" boolean NOT NULL,
	"because" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "rule_hold" (
	"signal_id" integer PRIMARY KEY NOT NULL,
	"rule_id" integer,
	"wish" jsonb,
	"since" timestamp (3) with time zone,
	"turn" integer DEFAULT 0 NOT NULL,
	"asked_turn" integer DEFAULT 0 NOT NULL,
	"asked_at" timestamp (3) with time zone,
	"problem" text DEFAULT '' NOT NULL,
	"hand_for" integer DEFAULT 3600 NOT NULL,
	"resumed_at" timestamp (3) with time zone
);
--> statement-breakpoint
CREATE TABLE "rule_input" (
	"rule_id" integer NOT NULL,
	"signal_id" integer NOT NULL,
	CONSTRAINT "rule_input_rule_id_signal_id_pk" PRIMARY KEY("rule_id","signal_id")
);
--> statement-breakpoint
CREATE TABLE "rule_state" (
	"rule_id" integer PRIMARY KEY NOT NULL,
	"state" jsonb NOT NULL,
	"next_at" timestamp (3) with time zone
);
--> statement-breakpoint
CREATE TABLE "rule_watch" (
	"id" integer PRIMARY KEY NOT NULL,
	"looked_at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "command" ADD COLUMN "rule" text;--> statement-breakpoint
ALTER TABLE "command" ADD COLUMN "turn" integer;--> statement-breakpoint
ALTER TABLE "rule" ADD CONSTRAINT "rule_signal_id_signal_id_fk" FOREIGN KEY ("signal_id") REFERENCES "public"."signal"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_act" ADD CONSTRAINT "rule_act_rule_id_rule_id_fk" FOREIGN KEY ("rule_id") REFERENCES "public"."rule"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_hold" ADD CONSTRAINT "rule_hold_signal_id_signal_id_fk" FOREIGN KEY ("signal_id") REFERENCES "public"."signal"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_hold" ADD CONSTRAINT "rule_hold_rule_id_rule_id_fk" FOREIGN KEY ("rule_id") REFERENCES "public"."rule"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_input" ADD CONSTRAINT "rule_input_rule_id_rule_id_fk" FOREIGN KEY ("rule_id") REFERENCES "public"."rule"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_input" ADD CONSTRAINT "rule_input_signal_id_signal_id_fk" FOREIGN KEY ("signal_id") REFERENCES "public"."signal"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rule_state" ADD CONSTRAINT "rule_state_rule_id_rule_id_fk" FOREIGN KEY ("rule_id") REFERENCES "public"."rule"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "rule_signal" ON "rule" USING btree ("signal_id");--> statement-breakpoint
CREATE INDEX "rule_act_rule" ON "rule_act" USING btree ("rule_id","id");--> statement-breakpoint
CREATE INDEX "rule_act_at" ON "rule_act" USING btree ("at");--> statement-breakpoint
CREATE INDEX "rule_input_signal" ON "rule_input" USING btree ("signal_id");--> statement-breakpoint
CREATE UNIQUE INDEX "command_turn" ON "command" USING btree ("signal_id","turn");