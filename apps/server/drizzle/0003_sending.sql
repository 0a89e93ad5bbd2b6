CREATE TABLE "formats" (
	"id" text PRIMARY KEY NOT NULL,
	"format" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "settings" jsonb;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "checks" jsonb;