ALTER TABLE "device" ADD COLUMN "constants" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "kit" ADD COLUMN "constants" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
-- A factor and an offset were all a conversion could be; now it is a formula.
UPDATE "signal_definition" SET "settings" = jsonb_set("settings", '{conversion}',
  to_jsonb(format('x * %s + %s', "settings"->'conversion'->>'factor', "settings"->'conversion'->>'offset')))
WHERE jsonb_typeof("settings"->'conversion') = 'object';--> statement-breakpoint
UPDATE "signal" SET "own" = jsonb_set("own", '{conversion}',
  to_jsonb(format('x * %s + %s', "own"->'conversion'->>'factor', "own"->'conversion'->>'offset')))
WHERE jsonb_typeof("own"->'conversion') = 'object';--> statement-breakpoint
UPDATE "description_version" SET "described" = jsonb_set("described", '{settings,conversion}',
  to_jsonb(format('x * %s + %s', "described"->'settings'->'conversion'->>'factor', "described"->'settings'->'conversion'->>'offset')))
WHERE jsonb_typeof("described"->'settings'->'conversion') = 'object';--> statement-breakpoint
UPDATE "description_version" SET "described" = jsonb_set("described", '{conversion}',
  to_jsonb(format('x * %s + %s', "described"->'conversion'->>'factor', "described"->'conversion'->>'offset')))
WHERE jsonb_typeof("described"->'conversion') = 'object';
