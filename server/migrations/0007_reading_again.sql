ALTER TABLE "replay" RENAME TO "rereading";--> statement-breakpoint
ALTER TABLE "rereading" RENAME CONSTRAINT "replay_pkey" TO "rereading_pkey";--> statement-breakpoint
ALTER TABLE "rereading" RENAME CONSTRAINT "replay_device_id_device_id_fk" TO "rereading_device_id_device_id_fk";--> statement-breakpoint
ALTER SEQUENCE "replay_id_seq" RENAME TO "rereading_id_seq";--> statement-breakpoint
ALTER TABLE "replay_change" RENAME TO "rereading_change";--> statement-breakpoint
ALTER TABLE "rereading_change" RENAME COLUMN "replay_id" TO "rereading_id";--> statement-breakpoint
ALTER TABLE "rereading_change" RENAME CONSTRAINT "replay_change_replay_id_signal_id_at_pk" TO "rereading_change_rereading_id_signal_id_at_pk";--> statement-breakpoint
ALTER TABLE "rereading_change" RENAME CONSTRAINT "replay_change_replay_id_replay_id_fk" TO "rereading_change_rereading_id_rereading_id_fk";
