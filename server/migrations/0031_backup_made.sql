CREATE TABLE "backup_made" (
	"at" timestamp (3) with time zone PRIMARY KEY NOT NULL
);
