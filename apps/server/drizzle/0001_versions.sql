CREATE TABLE "versions" (
	"id" text PRIMARY KEY NOT NULL,
	"piece" text NOT NULL,
	"name" text NOT NULL,
	"revision" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "versions" ADD CONSTRAINT "versions_piece_pieces_id_fk" FOREIGN KEY ("piece") REFERENCES "public"."pieces"("id") ON DELETE no action ON UPDATE no action;