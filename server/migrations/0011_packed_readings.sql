-- Pages hold the readings themselves besides what they come to: those that are there are built once more.
INSERT INTO "due_page" ("signal_id", "page", "since")
  SELECT "signal_id", "page", now() FROM "rollup_page" WHERE "level" = 60000
  ON CONFLICT DO NOTHING;
