/** What stands on a receipt. */
import type { z } from 'zod';
import { formName } from '@/core/medium-form';
import { say } from '@/messages';
import { MARK_WORDS } from '@/messages/names';
import { tell } from '@/messages/tell';
import type { Sheet, SheetColumn } from '@/server/platform/pdf/sheet';
import type { ReceiptKind } from '@/server/states';
import type { media } from '../media/tables';
import type { NewReceipt } from './new-receipt';
import { readWords, type ReadState } from './read-state';

type Medium = typeof media.$inferSelect;

interface ReceiptFacts {
  id: number;
  receipt: Omit<z.output<typeof NewReceipt>, 'of'>;
  media: readonly Medium[];
  /** Whose they are, with how to reach them. */
  lenders: readonly { name: string; contact: string }[];
  states: ReadonlyMap<number, ReadState>;
  operator: string;
}

/** Of what came, how it is; of what goes, how it was read. */
function lastColumn(kind: ReceiptKind, { states }: ReceiptFacts) {
  const isComing = kind === 'arrived' || kind === 'came-back';
  const conditionOf = ({ condition, marks }: Medium) =>
    [...marks.map((mark) => MARK_WORDS[mark]), condition].filter(Boolean).join('; ');
  return isComing
    ? { name: say.sheets.condition, cell: conditionOf }
    : { name: say.sheets.read, cell: ({ id }: Medium) => readWords(states.get(id)) };
}

function mediaTable(facts: ReceiptFacts) {
  const last = lastColumn(facts.receipt.kind, facts);
  const columns: SheetColumn[] = [
    { name: say.sheets.code, share: 15 },
    { name: say.sheets.form, share: 20 },
    { name: say.sheets.title, share: 25 },
    { name: say.sheets.sticker, share: 20 },
    { name: last.name, share: 20 },
  ];
  const rows = facts.media.map((medium) => [
    ...[medium.code, tell(formName(medium.form)), medium.title, medium.labelText],
    last.cell(medium),
  ]);
  return { kind: 'table', columns, rows } as const;
}

const lenderWords = ({ name, contact }: { name: string; contact: string }): string =>
  contact ? say.sheets.lenderAt({ name, contact }) : name;

export function receiptSheet(facts: ReceiptFacts): Sheet {
  const { id, receipt, lenders, operator } = facts;
  const { kind, day, person, backBy, notes } = receipt;
  const known = [
    [say.sheets.day, day],
    [say.sheets.persons[kind], person],
    [say.sheets.lender, lenders.map(lenderWords).join('; ')],
    [say.sheets.backBy, backBy],
    [say.sheets.notes, notes],
    [say.sheets.writtenBy, operator],
  ] as const;
  return {
    over: say.sheets.receipt({ id }),
    head: say.sheets.receiptHeads[kind]({ media: facts.media.length, day }),
    blocks: [
      { kind: 'facts', facts: known.filter(([, text]) => text !== '') },
      mediaTable(facts),
      { kind: 'signatures', under: [say.sheets.signedGiving, say.sheets.signedTaking] },
    ],
  };
}
