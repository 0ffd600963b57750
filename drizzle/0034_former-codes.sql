CREATE TABLE "former_codes" (
	"code" text PRIMARY KEY NOT NULL,
	"medium_id" integer NOT NULL,
	"until" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "former_codes" ADD CONSTRAINT "former_codes_medium_id_media_id_fk" FOREIGN KEY ("medium_id") REFERENCES "public"."media"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "former_codes_medium_id_index" ON "former_codes" USING btree ("medium_id");