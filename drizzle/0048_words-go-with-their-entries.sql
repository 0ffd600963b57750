ALTER TABLE "ledger_words" DROP CONSTRAINT "ledger_words_ledger_id_ledger_id_fk";
--> statement-breakpoint
ALTER TABLE "ledger_words" ADD CONSTRAINT "ledger_words_ledger_id_ledger_id_fk" FOREIGN KEY ("ledger_id") REFERENCES "public"."ledger"("id") ON DELETE cascade ON UPDATE no action;