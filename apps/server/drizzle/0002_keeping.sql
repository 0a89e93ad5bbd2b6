ALTER TABLE "deliveries" ADD COLUMN "deleted_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "note" text;--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "made" jsonb;--> statement-breakpoint
ALTER TABLE "media" ADD COLUMN "purged_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "snapshots" ADD COLUMN "undo" jsonb;--> statement-breakpoint
ALTER TABLE "snapshots" ADD COLUMN "redo" jsonb;