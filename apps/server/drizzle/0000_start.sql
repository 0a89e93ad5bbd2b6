CREATE TABLE "deliveries" (
	"id" text PRIMARY KEY NOT NULL,
	"piece" text NOT NULL,
	"piece_name" text NOT NULL,
	"revision" integer NOT NULL,
	"document" jsonb NOT NULL,
	"status" text NOT NULL,
	"progress" real DEFAULT 0 NOT NULL,
	"error" text,
	"file_name" text NOT NULL,
	"size" bigint,
	"length" bigint NOT NULL,
	"segments" integer DEFAULT 0 NOT NULL,
	"segments_kept" integer DEFAULT 0 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"finished_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "edits" (
	"piece" text NOT NULL,
	"seq" integer NOT NULL,
	"id" text NOT NULL,
	"kind" text NOT NULL,
	"name" text NOT NULL,
	"title" text NOT NULL,
	"target" text,
	"params" jsonb,
	"patches" jsonb NOT NULL,
	"inverse" jsonb NOT NULL,
	"at" timestamp with time zone NOT NULL,
	CONSTRAINT "edits_piece_seq_pk" PRIMARY KEY("piece","seq")
);
--> statement-breakpoint
CREATE TABLE "media" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"file_name" text NOT NULL,
	"size" bigint NOT NULL,
	"status" text NOT NULL,
	"complete" boolean DEFAULT false NOT NULL,
	"error" text,
	"sha256" text,
	"facts" jsonb,
	"source" jsonb,
	"frames" jsonb,
	"filmstrip" jsonb,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "notes" (
	"key" text PRIMARY KEY NOT NULL,
	"value" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "pieces" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"format" jsonb NOT NULL,
	"length" bigint NOT NULL,
	"clips" integer NOT NULL,
	"revision" integer NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "snapshots" (
	"piece" text NOT NULL,
	"revision" integer NOT NULL,
	"document" jsonb NOT NULL,
	CONSTRAINT "snapshots_piece_revision_pk" PRIMARY KEY("piece","revision")
);
--> statement-breakpoint
ALTER TABLE "edits" ADD CONSTRAINT "edits_piece_pieces_id_fk" FOREIGN KEY ("piece") REFERENCES "public"."pieces"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "snapshots" ADD CONSTRAINT "snapshots_piece_pieces_id_fk" FOREIGN KEY ("piece") REFERENCES "public"."pieces"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "edits_id" ON "edits" USING btree ("piece","id");