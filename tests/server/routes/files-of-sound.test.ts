/** Files of sound among the sounds of everything kept, and what is found taken out of many media. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { eq, sql } from 'drizzle-orm';
import { extracts } from '@/server/features/extracts/tables';
import { FoundSounds, takeFound } from '@/server/features/extracts/take-found';
import { takeIn } from '@/server/features/intake/intake';
import { ledger } from '@/server/features/ledger/tables';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { heldSounds, SoundsQuestion } from '@/server/features/sounds/held-sounds';
import { soundsOfCopy } from '@/server/features/sounds/queries';
import { setRate } from '@/server/features/sounds/sound-rates';
import { soundSheet } from '@/server/features/sounds/sound-sheet';
import { sounds } from '@/server/features/sounds/tables';
import { readBlob } from '@/server/platform/blobs/read-blob';
import { fairCopies } from '@/server/features/copies/tables';
import { enqueue } from '@/server/platform/jobs/enqueue';
import { wakeWorkers } from '@/server/platform/jobs/queue';
import { jobs } from '@/server/platform/jobs/tables';
import { until } from '../../support/application';
import { serverSuite } from '../../support/server-suite';
import { strictWav } from '../../support/sound/strict-wav';
import { unzip } from '../../support/unzip';
import { loadVector, sha256Hex } from '../../support/vectors';

const suite = serverSuite({ worker: true });
const who = 1;
const db = () => suite.connection.db;
const ask = (asked: object) => heldSounds(db(), SoundsQuestion.parse(asked));
type Row = Awaited<ReturnType<typeof ask>>['rows'][number];

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'sounds-'));
});
afterEach(() => rmSync(folder, { recursive: true }));

const run = (command: string, ...args: string[]) => execFileSync(command, args, { cwd: folder });

async function kept(name: string, image: Uint8Array): Promise<string> {
  const { code } = await takeIn(db(), who, { name }, image);
  await until(`the sounds of ${code}`, async () => (await ask({ q: code })).rows.length > 0);
  return code;
}

/** A floppy of 720 KiB with these files, filled by programs that are not ours. */
function floppyOf(names: readonly string[]): Uint8Array {
  run('mformat', '-C', '-i', 'disk.img', '-f', '720', '::');
  run('mmd', '-i', 'disk.img', '::TIDES');
  for (const name of names) run('mcopy', '-i', 'disk.img', name, '::TIDES');
  return readFileSync(join(folder, 'disk.img'));
}

const copyIdOf = async (code: string) => (await mediumDetail(db(), code)).copy!.id;
const about = ({ name, folder: own, rateHz, rootNote, isLooped, sample }: Row) =>
  [name, own, rateHz, rootNote, isLooped, sample === null] as const;

test('files of sound stand among the samples, and are the same sound in whatever form', async () => {
  const wave = await kept('wave.img', loadVector('sound/w-gaps.img'));
  const [first] = (await ask({ q: wave })).rows;
  const [listed] = (await soundsOfCopy(db(), await copyIdOf(wave))).volumes[0]!.folders[0]!.samples;
  expect(first!.file).toBe(listed!.file);
  const frames = loadVector('sound/w-gaps.img').subarray(0x3000, 0x3000 + listed!.frames);
  expect(sha256Hex(frames)).toBe(first!.pcmSha256);
  writeFileSync(join(folder, 'raw.u8'), frames);
  const raw = ['-t', 'raw', '-e', 'unsigned', '-b', '8', '-c', '1', '-r', '29411', 'raw.u8'];
  run('sox', ...raw, 'horn.wav');
  run('sox', ...raw, 'horn.aif');
  run('sox', ...raw, '-t', '8svx', 'horn.svx');
  writeFileSync(join(folder, 'notes.wav'), 'no sound at all');
  const cut = readFileSync(join(folder, 'horn.wav'));
  writeFileSync(join(folder, 'cut.wav'), cut.subarray(0, cut.length - 100));
  const image = floppyOf(['horn.wav', 'horn.aif', 'horn.svx', 'notes.wav', 'cut.wav']);
  const { total: before } = await ask({ pcm: first!.pcmSha256! });
  const { rows } = await ask({ q: await kept('floppy.img', image) });
  const told = rows.map(about).sort();
  expect(told).toEqual(
    ['cut.wav', 'horn.aif', 'horn.svx', 'horn.wav'].map((name) => [
      ...[name, 'TIDES', 29_411, null, false, true],
    ]),
  );
  const whole = rows.filter(({ name }) => name !== 'cut.wav');
  expect(whole.map(({ pcmSha256 }) => pcmSha256)).toEqual(whole.map(() => first!.pcmSha256));
  expect(rows.find(({ name }) => name === 'cut.wav')!.pcmSha256).toBeNull();
  const held = await ask({ pcm: first!.pcmSha256! });
  expect(held.total).toEqual({ sounds: before.sounds + 3, media: before.media + 1 });
});

test('a sound whose rate nobody could mean does not hide the others', async () => {
  run('sox', '-n', '-r', '8000', 'pip.wav', 'synth', '0.05', 'sine', '440');
  const fast = readFileSync(join(folder, 'pip.wav'));
  fast.writeUInt32LE(0xffff_ffff, 24);
  writeFileSync(join(folder, 'fast.wav'), fast);
  const code = await kept('rates.img', floppyOf(['fast.wav', 'pip.wav']));
  expect((await ask({ q: code })).rows.map(({ name }) => name)).toEqual(['pip.wav']);
});

test('of files that say to be longer than their image holds, no more is read than an honest one has', async () => {
  run('sox', '-n', '-r', '8000', 'pip.wav', 'synth', '0.05', 'sine', '440');
  const code = await kept('short.img', floppyOf(['pip.wav']));
  const id = await copyIdOf(code);
  await db().update(fairCopies).set({ imageBytes: 10 }).where(eq(fairCopies.id, id));
  await db().transaction((tx) => enqueue(tx, 'sounds', { fairCopyId: id }));
  await until('it to be gone through', async () => (await ask({ q: code })).rows.length === 0);
});

test('what was kept before is gone through as the migration asks for it', async () => {
  run('sox', '-n', '-r', '8000', 'pip.wav', 'synth', '0.05', 'sine', '440');
  const code = await kept('pip.img', floppyOf(['pip.wav']));
  await db().delete(sounds);
  await db().delete(jobs).where(eq(jobs.kind, 'sounds'));
  const migration = readFileSync('drizzle/0033_files-of-sound.sql', 'utf8');
  await db().execute(sql.raw(migration.split('--> statement-breakpoint').at(-1)!));
  await db().transaction((tx) => wakeWorkers(tx));
  await until('the sound', async () => (await ask({ q: code })).rows.length > 0);
  expect((await ask({ q: code })).rows.map(({ name }) => name)).toEqual(['pip.wav']);
});

test('what a question finds is taken out of all its media, and nothing else', async () => {
  const [one, other] = [
    await kept('one.img', loadVector('sound/p-missing.img')),
    await kept('other.img', loadVector('sound/w-gaps.img')),
  ];
  const ids = [await copyIdOf(one), await copyIdOf(other)];
  const all = (await ask({})).rows.filter(({ copyId, sample }) => ids.includes(copyId) && sample);
  const long = Math.max(...all.map(({ seconds }) => seconds));
  const atLeast = String(long / 2);
  const wanted = (await ask({ atLeast })).rows.filter(({ sample }) => sample);
  expect(wanted.length).toBeGreaterThan(0);
  const question = { atLeast };
  const { id } = await takeFound(db(), who, FoundSounds.parse({ question }));
  const row = await until('the ZIP', async () => {
    const [found] = await db().select().from(extracts).where(eq(extracts.id, id));
    return found!.state === 'done' && found!;
  });
  const zip = unzip(await readBlob(db(), row.blobId!));
  const wavs = [...zip].filter(([name]) => name.endsWith('.wav'));
  const digests = wavs.map(([, bytes]) => sha256Hex(strictWav(Buffer.from(bytes)).data)).sort();
  expect(digests).toEqual(wanted.map(({ pcmSha256 }) => pcmSha256!).sort());
  const media = new Set(wavs.map(([name]) => name.split('/')[0]));
  expect(media).toEqual(new Set(wanted.map(({ code }) => code)));
});

test('where nothing is found, or only files that leave as files do, nothing is begun', async () => {
  run('sox', '-n', '-r', '8000', 'pip.wav', 'synth', '0.05', 'sine', '440');
  const code = await kept('pip.img', floppyOf(['pip.wav']));
  for (const q of [code, 'nothing is called that'])
    await expect(
      takeFound(db(), who, FoundSounds.parse({ question: { q } })),
    ).rejects.toMatchObject({ status: 422, code: 'sound.noSampleAnswers' });
});

test('a rate found by ear is kept with the medium: in its list, its sheet, and the list of all', async () => {
  const code = await kept('wave.img', loadVector('sound/w-gaps.img'));
  const id = await copyIdOf(code);
  const [before] = (await ask({ q: code })).rows;
  await setRate(db(), who, id, { rateHz: 15_000 });
  await until('the rate', async () => (await ask({ q: code, rate: '15000' })).rows.length > 0);
  const now = await soundsOfCopy(db(), id);
  const samples = now.volumes[0]!.folders.flatMap((each) => each.samples);
  expect(new Set(samples.map(({ rateHz, rateAssumed }) => [rateHz, rateAssumed].join()))).toEqual(
    new Set(['15000,true']),
  );
  const [after] = (await ask({ q: code })).rows;
  expect(after!.seconds).toBeCloseTo((before!.seconds * 29_411) / 15_000, 3);
  expect(after!.pcmSha256).toBe(before!.pcmSha256);
  const [line] = (await (await soundSheet(db(), id, true)).text()).split('\n');
  expect(JSON.parse(line!)).toMatchObject({ rate: 15_000, rate_is_assumed: true });
  const [entry] = await db()
    .select({ what: ledger.what })
    .from(ledger)
    .where(sql`${ledger.what}->>'code' = 'sound.rateIsSet'`);
  expect(entry!.what).toMatchObject({ with: { code, rateHz: 15_000 } });
});

test('of no copy no rate is kept', () =>
  expect(setRate(db(), who, 999_999, { rateHz: 15_000 })).rejects.toMatchObject({ status: 404 }));
