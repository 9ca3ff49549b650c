-- Who was owner or viewer so far is that at every site.
INSERT INTO "membership" ("person_id", "site_id", "role") SELECT "id", NULL, "role" FROM "person";--> statement-breakpoint
ALTER TABLE "person" DROP COLUMN "role";--> statement-breakpoint
-- What happened is told to those who may look at its site, so each row has to know it.
UPDATE "dated_event" SET "site_id" = "device"."site_id" FROM "device"
WHERE "dated_event"."device_id" = "device"."id" AND "dated_event"."site_id" IS NULL;--> statement-breakpoint
UPDATE "dated_event" SET "person_name" = "person"."name" FROM "person" WHERE "dated_event"."person_id" = "person"."id";
