/** Files and stretches heard as they lie: their bytes, and how a person set them. */
import { desc, eq } from 'drizzle-orm';
import { FIRST_SETTINGS } from '@/core/sound/raw-sound';
import { fairCopies, files, volumes } from '@/server/features/copies/tables';
import { takeIn } from '@/server/features/intake/intake';
import { media } from '@/server/features/media/tables';
import { findings } from '@/server/features/signatures/tables';
import {
  HearingPlace,
  KeptHearing,
  hearingOf,
  keepHearing,
  stretchOf,
} from '@/server/features/sounds/raw-hearings';
import { rawHearings } from '@/server/features/sounds/tables';
import { serverSuite } from '../../support/server-suite';
import { loadVector } from '../../support/vectors';

const suite = serverSuite({});
const who = 1;
const db = () => suite.connection.db;
const SIGNED = { ...FIRST_SETTINGS, values: '16', isSigned: true, rateHz: 8363 } as const;

async function copyOf(code: string) {
  const [row] = await db()
    .select({ copy: fairCopies })
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(media.code, code))
    .orderBy(desc(fairCopies.id))
    .limit(1);
  return row!.copy;
}

/** A copy, and the row of one of its files. */
async function withFile(code = 'SKP-0104') {
  const copy = await copyOf(code);
  const [file] = await db()
    .select({ id: files.id, path: files.path, bytes: files.bytes })
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .where(eq(volumes.fairCopyId, copy.id))
    .orderBy(desc(files.bytes))
    .limit(1);
  return { copy, file: file! };
}

test('a file is set to be heard, kept so, and set anew; a stretch of its image is another', async () => {
  const { copy, file } = await withFile();
  const place = { file: file.id };
  expect(await hearingOf(db(), copy.id, place)).toMatchObject({
    name: file.path,
    length: file.bytes,
    settings: null,
  });
  await keepHearing(db(), who, copy.id, { place, settings: SIGNED });
  await keepHearing(db(), who, copy.id, { place, settings: { ...SIGNED, channels: 2 } });
  const stretch = { from: 0, length: file.bytes };
  expect((await hearingOf(db(), copy.id, stretch)).settings).toBeNull();
  await keepHearing(db(), who, copy.id, { place: stretch, settings: FIRST_SETTINGS });
  await keepHearing(db(), who, copy.id, { place: stretch, settings: SIGNED });
  expect((await hearingOf(db(), copy.id, place)).settings).toEqual({ ...SIGNED, channels: 2 });
  expect((await hearingOf(db(), copy.id, stretch)).settings).toEqual(SIGNED);
  const rows = await db().select().from(rawHearings).where(eq(rawHearings.fairCopyId, copy.id));
  expect(rows.map(({ fileId, setBy }) => [fileId, setBy])).toEqual([
    [file.id, who],
    [null, who],
  ]);
});

test('a stretch is those bytes of the image and no others, and ends where the image does', async () => {
  const image = loadVector('sound/w-gaps.img');
  const { code } = await takeIn(db(), who, { name: 'stretch.img' }, image);
  const { id } = await copyOf(code);
  const bytesOf = async (from: number, length: number) =>
    Buffer.from(await (await stretchOf(db(), id, { from, length })).arrayBuffer());
  expect((await bytesOf(11_264, 5000)).equals(Buffer.from(image.slice(11_264, 16_264)))).toBe(true);
  const last = await bytesOf(image.length - 7, 1 << 20);
  expect(last.equals(Buffer.from(image.slice(-7)))).toBe(true);
  await expect(stretchOf(db(), id, { from: image.length, length: 1 })).rejects.toMatchObject({
    status: 422,
    code: 'sound.liesBehindTheImage',
  });
});

test('a file of another copy is none of this one, and what is in quarantine is not heard', async () => {
  const { file } = await withFile();
  const other = await copyOf('SKP-0103');
  await expect(hearingOf(db(), other.id, { file: file.id })).rejects.toMatchObject({ status: 404 });
  const settings = FIRST_SETTINGS;
  await expect(
    keepHearing(db(), who, other.id, { place: { file: file.id }, settings }),
  ).rejects.toMatchObject({ status: 404 });
  const finding = { rule: 'made-up', name: 'made-up', note: '', path: null, offset: 0 };
  await db()
    .insert(findings)
    .values({ fairCopyId: other.id, ...finding });
  await expect(stretchOf(db(), other.id, { from: 0, length: 9 })).rejects.toMatchObject({
    status: 409,
  });
});

test.each([
  {},
  { file: '0' },
  { from: '-1', length: '5' },
  { from: '0', length: '0' },
  { from: '5' },
])('%j is no place', (place) => {
  expect(HearingPlace.safeParse(place).success).toBe(false);
  expect(KeptHearing.safeParse({ place, settings: FIRST_SETTINGS }).success).toBe(false);
});
