-- Places are rolled up too: those that are there are due.
INSERT INTO "due_page" ("signal_id", "page", "since")
  SELECT DISTINCT "signal_id", floor(extract(epoch from "at") / 3600)::int, now()
  FROM "position_reading" JOIN "signal" ON "signal"."id" = "position_reading"."signal_id"
  ON CONFLICT DO NOTHING;
