/** What is said of many media, out in a table and in again: seen before it is done. */
import { and, asc, eq } from 'drizzle-orm';
import { tell } from '@/messages/tell';
import {
  describe as describeIt,
  descriptionOfMedium,
} from '@/server/features/descriptions/descriptions';
import { DescriptionChange } from '@/server/features/descriptions/new-description';
import { ledger } from '@/server/features/ledger/tables';
import { correctMedia, previewCorrections } from '@/server/features/media/corrections';
import { FactsQuestion, factTable } from '@/server/features/media/fact-list';
import { ManyCorrections } from '@/server/features/media/many-corrections';
import { mediumByCode, registerMany } from '@/server/features/media/media';
import { NewMedium } from '@/server/features/media/new-medium';
import { addPaper } from '@/server/features/media/papers';
import { correctionsIn } from '@/ui/media/correct/sheet-corrections';
import { serverSuite } from '../../support/server-suite';

const suite = serverSuite();
const who = 1;
const db = () => suite.connection.db;

const made = (code: string) => NewMedium.parse({ code, form: '3.5', title: `Disk ${code}` });
const told = async (code: string) => {
  const { id } = await mediumByCode(db(), code);
  const entries = await db()
    .select()
    .from(ledger)
    .where(and(eq(ledger.mediumId, id), eq(ledger.kind, 'described')))
    .orderBy(asc(ledger.id));
  return entries.map(({ what }) => tell(what));
};

test('what is said of many media goes out in a table and comes in again, seen before it is done', async () => {
  await registerMany(db(), who, [made('DCT-1'), made('DCT-2'), made('DCT-3')]);
  const heads = 'code,creator,date,acquired_from,acquired_how';
  const table = correctionsIn(
    [heads, 'DCT-1,"A. Rook | B. Jay",1987~,E. Wren,gift', 'DCT-2,,,,', 'DCT-3,A. Rook,,,'].join(
      '\n',
    ),
  )!;
  expect(table.odd).toEqual([]);
  const parsed = ManyCorrections.parse({ media: table.rows, seen: null }).media;
  const { media: shown, seen } = await previewCorrections(db(), parsed);
  expect(shown.map(({ changes }) => changes.map(({ fact }) => fact))).toEqual([
    ['creator', 'date', 'acquisition'],
    [],
    ['creator'],
  ]);
  expect(await correctMedia(db(), who, parsed, seen)).toEqual({ corrected: 2 });
  const said = await descriptionOfMedium(db(), await mediumByCode(db(), 'DCT-1'));
  expect(said.own).toEqual({
    elements: { creator: ['A. Rook', 'B. Jay'], date: ['1987~'] },
    acquisition: { from: 'E. Wren', on: '', how: 'gift', notes: '', agreement: null },
  });
  expect(await told('DCT-3')).toEqual(['DCT-3 described: creator: A. Rook (was nothing).']);
  // What was saved says what is so: brought back it changes nothing.
  const saved = await (await factTable(db(), FactsQuestion.parse({ q: 'DCT' }), false)).text();
  const back = correctionsIn(saved)!;
  expect([back.odd, back.unknown]).toEqual([[], []]);
  const again = await previewCorrections(
    db(),
    ManyCorrections.parse({ media: back.rows, seen: null }).media,
  );
  expect(again.media.map(({ changes }) => changes)).toEqual([[], [], []]);
});

test('an empty cell says an element no more, and the agreement stays that a table can’t name', async () => {
  await registerMany(db(), who, [made('DCU-1')]);
  const paper = await addPaper(db(), who, { code: 'DCU-1' }, 'a.txt', Buffer.from('on loan'));
  const acquisition = { from: 'E. Wren', on: '', how: 'loan', notes: '', agreement: paper.id };
  const change = DescriptionChange.parse({ elements: { creator: ['A. Rook'] }, acquisition });
  await describeIt(db(), who, 'media', 'DCU-1', change);
  const rows = correctionsIn('code,creator,acquired_from\nDCU-1,,')!.rows;
  const parsed = ManyCorrections.parse({ media: rows, seen: null }).media;
  await correctMedia(db(), who, parsed, null);
  const said = await descriptionOfMedium(db(), await mediumByCode(db(), 'DCU-1'));
  expect(said.own).toEqual({ elements: {}, acquisition: { ...acquisition, from: '' } });
});

test.each(['date', 'language', 'type', 'acquired_on', 'acquired_how'])(
  'a cell of %s that says what it can’t is told, and nothing of it is taken',
  (column) => {
    const read = correctionsIn(`code,${column},lender\nDCV-1,no such one 9,E. W.`)!;
    expect(read.odd).toEqual([{ row: 2, column, text: 'no such one 9' }]);
  },
);
