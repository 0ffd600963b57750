/** Codes of an archive's own scheme: registered, drawn by lot, sorted, in addresses and in names. */
import { asc, eq } from 'drizzle-orm';
import { makeBlank } from '@/core/identify/make-blank';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import { codeAt } from '@/core/medium-code';
import { copyPart } from '@/server/features/copies/downloads';
import { searchHoldings } from '@/server/features/holdings/holdings';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { takeIn } from '@/server/features/intake/intake';
import { drawCode, nextCode } from '@/server/features/media/codes';
import { changeLot } from '@/server/features/media/lots';
import { correctMedium } from '@/server/features/media/corrections';
import { registerMany } from '@/server/features/media/media';
import { LotChange, NewMedium } from '@/server/features/media/new-medium';
import { lots, media } from '@/server/features/media/tables';
import { withdraw } from '@/server/features/media/withdrawals';
import { serverSuite } from '../../support/server-suite';

const suite = serverSuite();
const who = 1;
const db = () => suite.connection.db;
const image = makeBlank(BLANK_KINDS.find(({ id }) => id === 'wavesample')!);

const register = (lot: string, ...codes: string[]) =>
  registerMany(
    db(),
    who,
    codes.map((code) => NewMedium.parse({ code, form: '3.5', title: `Disk ${code}`, lot })),
  );
const proposed = async (lot: string) => {
  const { numbering, number } = await nextCode(db(), lot);
  return codeAt(numbering, number);
};
const setPattern = async (lot: string, codePattern: string) => {
  const [now] = await db().select().from(lots).where(eq(lots.name, lot));
  await changeLot(db(), who, lot, LotChange.parse({ ...now, codePattern }));
};

test('a code is kept in capitals, and the next one of its lot goes on as it is written', async () => {
  await register('scheme a', '2024/017/3a', 'SCA-09');
  expect(await proposed('scheme a')).toBe('SCA-10');
  await register('scheme a2', ' ms  12/0099 ');
  expect(await proposed('scheme a2')).toBe('MS 12/0100');
  await register('scheme a3', '2024/018/3B');
  expect(await proposed('scheme a3')).toBe('2024/018/4B');
});

test('a lot with a pattern gives codes of it, past those that are there, each once', async () => {
  await register('scheme b', '007/2031', 'SCB-1');
  await setPattern('scheme b', '###/2031');
  expect(await proposed('scheme b')).toBe('008/2031');
  // One that a person chose counts as well, in whichever lot.
  await register('scheme b2', '011/2031');
  const drawn = await Promise.all(
    Array.from({ length: 5 }, () => db().transaction((tx) => drawCode(tx, 'scheme b'))),
  );
  expect(drawn.toSorted()).toEqual(['012/2031', '013/2031', '014/2031', '015/2031', '016/2031']);
});

test('codes go on past the newest of a lot, also where a pattern of another gave that', async () => {
  await register('scheme g', '001/2042');
  await setPattern('scheme g', '###/2042');
  const drawn = await db().transaction((tx) => drawCode(tx, 'scheme g'));
  await register('scheme g2', drawn);
  expect([drawn, await proposed('scheme g2')]).toEqual(['002/2042', '002/2043']);
});

test('what was registered by mistake and withdrawn is no scheme to go on with', async () => {
  await register('scheme h', 'SCH-0007', '2O24-3');
  await withdraw(db(), who, '2O24-3', 'a letter for a digit');
  expect(await proposed('scheme h')).toBe('SCH-0008');
});

test('a code that a medium had is not given again by a pattern', async () => {
  await register('scheme c', 'SCC-5-X');
  await correctMedium(db(), who, 'SCC-5-X', { code: 'SCC-1-Y' });
  await setPattern('scheme c', 'SCC-#-X');
  expect(await proposed('scheme c')).toBe('SCC-6-X');
});

test('a pattern that makes no codes is refused, and stays as it was', async () => {
  await register('scheme d', 'SCD-1');
  await setPattern('scheme d', 'scd/##');
  expect(LotChange.shape.codePattern.safeParse('SCD/').success).toBe(false);
  const [now] = await db().select().from(lots).where(eq(lots.name, 'scheme d'));
  expect(now!.codePattern).toBe('SCD/##');
});

test('codes stand in the order of their numbers, in the register and in the holdings', async () => {
  const codes = ['SCE/10', 'SCE/9', 'SCE/2/1', 'SCE/2', 'SCE/100'];
  await register('scheme e', ...codes);
  for (const code of ['SCE/10', 'SCE/9']) await takeIn(db(), who, { name: 'x.img', code }, image);
  const rows = await db()
    .select({ code: media.code })
    .from(media)
    .where(eq(media.lot, 'scheme e'))
    .orderBy(asc(media.code));
  expect(rows.map(({ code }) => code)).toEqual(['SCE/2', 'SCE/2/1', 'SCE/9', 'SCE/10', 'SCE/100']);
  const held = await searchHoldings(db(), { q: 'SCE' });
  expect(held.copies.map(({ code }) => code)).toEqual(['SCE/9', 'SCE/10']);
});

test('a docket is reached by such a code, and what leaves is named so that every system takes it', async () => {
  await register('scheme f', '2024/019/7');
  await takeIn(db(), who, { name: 'x.img', code: '2024/019/7' }, image);
  const { medium, copy } = await mediumDetail(db(), '2024/019/7');
  expect(medium.code).toBe('2024/019/7');
  const given = await copyPart(db(), copy!.id, 'image');
  await given.body!.cancel();
  expect(given.headers.get('content-disposition')).toContain('filename="2024-019-7.img"');
});
