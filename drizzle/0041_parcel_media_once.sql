-- A parcel names a medium once; one that named it twice keeps the first.
DELETE FROM "parcel_media" later USING "parcel_media" first
  WHERE later."parcel_id" = first."parcel_id" AND later."medium_id" = first."medium_id" AND later.ctid > first.ctid;--> statement-breakpoint
DROP INDEX "parcel_media_parcel_id_index";--> statement-breakpoint
ALTER TABLE "parcel_media" ADD CONSTRAINT "parcel_media_parcel_id_medium_id_pk" PRIMARY KEY("parcel_id","medium_id");