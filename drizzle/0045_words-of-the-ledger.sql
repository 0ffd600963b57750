CREATE TABLE "ledger_words" (
	"ledger_id" bigint PRIMARY KEY NOT NULL,
	"words" text NOT NULL
);
--> statement-breakpoint
DROP INDEX "ledger_kind_index";--> statement-breakpoint
ALTER TABLE "ledger_words" ADD CONSTRAINT "ledger_words_ledger_id_ledger_id_fk" FOREIGN KEY ("ledger_id") REFERENCES "public"."ledger"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "ledger_kind_id_index" ON "ledger" USING btree ("kind","id");--> statement-breakpoint
CREATE INDEX "ledger_operator_id_id_index" ON "ledger" USING btree ("operator_id","id");--> statement-breakpoint
CREATE INDEX "ledger_at_index" ON "ledger" USING btree ("at");--> statement-breakpoint
CREATE INDEX "ledger_words_trigrams" ON "ledger_words" USING gin ("words" gin_trgm_ops);
