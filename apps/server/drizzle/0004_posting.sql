CREATE TABLE "accounts" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"sealed" text NOT NULL,
	"stale" boolean DEFAULT false NOT NULL
);
--> statement-breakpoint
CREATE TABLE "posts" (
	"id" text PRIMARY KEY NOT NULL,
	"delivery" text NOT NULL,
	"piece" text NOT NULL,
	"platform" text NOT NULL,
	"platform_name" text NOT NULL,
	"about" jsonb NOT NULL,
	"status" text NOT NULL,
	"remote" text,
	"upload" text,
	"page" text,
	"reasons" jsonb NOT NULL,
	"says" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"finished_at" timestamp with time zone
);
