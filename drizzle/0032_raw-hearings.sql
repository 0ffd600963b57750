CREATE TABLE "raw_hearings" (
	"id" serial PRIMARY KEY NOT NULL,
	"fair_copy_id" integer NOT NULL,
	"file_id" integer,
	"from" bigint NOT NULL,
	"length" bigint NOT NULL,
	"settings" jsonb NOT NULL,
	"set_by" integer NOT NULL,
	"set_at" timestamp with time zone DEFAULT now() NOT NULL,
	"json_shape" smallint DEFAULT 1 NOT NULL,
	CONSTRAINT "raw_hearings_place" UNIQUE NULLS NOT DISTINCT("fair_copy_id","file_id","from","length")
);
--> statement-breakpoint
ALTER TABLE "raw_hearings" ADD CONSTRAINT "raw_hearings_fair_copy_id_fair_copies_id_fk" FOREIGN KEY ("fair_copy_id") REFERENCES "public"."fair_copies"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "raw_hearings" ADD CONSTRAINT "raw_hearings_file_id_files_id_fk" FOREIGN KEY ("file_id") REFERENCES "public"."files"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "raw_hearings" ADD CONSTRAINT "raw_hearings_set_by_operators_id_fk" FOREIGN KEY ("set_by") REFERENCES "public"."operators"("id") ON DELETE no action ON UPDATE no action;