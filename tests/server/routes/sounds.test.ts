/** The sounds of fair copies: listed with their files, heard, and taken out by a job. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import { DeEmphasis } from '@/core/sound/signal/de-emphasis';
import { wavHeader } from '@/core/sound/wav/header';
import { copyPart, fileToHear } from '@/server/features/copies/downloads';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { startExtract, type ExtractAsked } from '@/server/features/extracts/extracts';
import { extracts } from '@/server/features/extracts/tables';
import { actOnAssembly, addUpload, startAssembly } from '@/server/features/assemblies/assemblies';
import { soundOfAssembly } from '@/server/features/assemblies/heard-sound';
import { takeIn } from '@/server/features/intake/intake';
import { soundsOfCopy } from '@/server/features/sounds/queries';
import { contentsOf } from '@/server/features/copies/queries';
import { files } from '@/server/features/copies/tables';
import { findings } from '@/server/features/signatures/tables';
import { soundAsWav } from '@/server/features/sounds/sound-as-wav';
import { soundSheet } from '@/server/features/sounds/sound-sheet';
import { sounds } from '@/server/features/sounds/tables';
import { readBlob } from '@/server/platform/blobs/read-blob';
import { fogWavesampleFloppy } from '../../../demo/fog-sounds';
import { until } from '../../support/application';
import { serverSuite } from '../../support/server-suite';
import { strictWav } from '../../support/sound/strict-wav';
import { settledAssembly } from '../../support/settled-assembly';
import { withRoom } from '../../support/sound/sampler-disks';
import { unzip } from '../../support/unzip';
import { loadVector, sha256Hex } from '../../support/vectors';

const suite = serverSuite({ worker: true });
const who = 1;
const db = () => suite.connection.db;

/** A WAV of 8 bits. */
const eightBitWav = (data: Uint8Array) =>
  Buffer.concat([wavHeader(data.length, { channels: 1, rate: 22_050, bits: 8 }), data]);

/** Takes an image in, and gives its copy. */
async function copyOf(name: string): Promise<number> {
  const { code } = await takeIn(db(), who, { name }, loadVector(`sound/${name}`));
  return (await mediumDetail(db(), code)).copy!.id;
}
const samplesOf = async (copy: number) =>
  (await soundsOfCopy(db(), copy)).volumes.flatMap(({ folders }) =>
    folders.flatMap(({ samples }) => samples),
  );

test('each sample is listed with the file that holds it, whose bytes are its frames', async () => {
  const samples = await samplesOf(await copyOf('s-start-end.img'));
  expect(samples.map(({ name }) => name)).toEqual(['MIDDLE', 'LATE', 'EARLY', 'LOOP AFTER']);
  const [{ file, headerBytes, frames }] = samples as [(typeof samples)[0]];
  const bytes = new Uint8Array(await (await fileToHear(db(), file!)).arrayBuffer());
  expect(sha256Hex(bytes.subarray(headerBytes, headerBytes + 2 * frames))).toBe(
    'e5548b48626e17f2ea528a7ccc7e8b502955691a7b8559d5a56b813b78c71873',
  );
});

test('what is doubtful of a file lies on the time of its sound', async () => {
  const copy = await copyOf('s-tuning.img');
  const file = (await samplesOf(copy))[0]!.file!;
  // Ten bytes of the header, and the frames 5 up to 25.
  const doubts = [
    { offset: 0, length: 10 },
    { offset: 160, length: 40 },
  ];
  await db().update(files).set({ doubts }).where(eq(files.id, file));
  const [sample] = await samplesOf(copy);
  expect(sample!.doubts).toEqual([{ from: 5, to: 25 }]);
});

test('of no copy there are no sounds', () =>
  expect(soundsOfCopy(db(), 999_999)).rejects.toMatchObject({ status: 404 }));

test('in quarantine nothing is heard', async () => {
  const copy = await copyOf('p-missing.img');
  const { file } = (await samplesOf(copy))[0]!;
  await expect(fileToHear(db(), file!)).resolves.toBeInstanceOf(Response);
  await db().insert(findings).values({
    fairCopyId: copy,
    rule: 'made-up',
    name: 'made-up',
    note: '',
    path: null,
    offset: 0,
  });
  await expect(fileToHear(db(), file!)).rejects.toMatchObject({ status: 409 });
});

test('the sounds of a copy are taken out by a job', async () => {
  const { zip, row } = await soundsTakenOut(await copyOf('h-collide.img'), {});
  const names = [...zip.keys()].filter((name) => !name.endsWith('.json'));
  expect(row.filesInAll).toBe(names.length);
  expect(new Set(names.map((name) => name.toLowerCase())).size).toBe(names.length);
  const [manifest] = JSON.parse(Buffer.from(zip.get('manifest.json')!).toString()) as [
    { files: { file: string; pcmSha256?: string }[] },
  ];
  const wavs = manifest.files.filter(({ file }) => file.endsWith('.wav'));
  expect(wavs).toHaveLength(18);
  for (const { file, pcmSha256 } of wavs)
    expect(sha256Hex(strictWav(Buffer.from(zip.get(file)!)).data)).toBe(pcmSha256);
});

/** The ZIP that taking sounds out of a copy ends in. */
async function soundsTakenOut(copy: number, how: Partial<ExtractAsked>) {
  const { id } = await startExtract(db(), who, { copies: [copy], what: 'sounds', ...how });
  const row = await until('the ZIP', async () => {
    const [found] = await db().select().from(extracts).where(eq(extracts.id, id));
    return found?.state === 'done' ? found : null;
  });
  return { row: row!, zip: unzip(await readBlob(db(), row!.blobId!)) };
}

test('what is chosen is taken out and nothing else; a sample is a WAV by itself', async () => {
  const copy = await copyOf('p-missing.img');
  const [{ samples, programs }] = (await soundsOfCopy(db(), copy)).volumes[0]!.folders as [
    Awaited<ReturnType<typeof soundsOfCopy>>['volumes'][0]['folders'][0],
  ];
  const [sample] = samples;
  const [program] = programs;
  const namesIn = (zip: Map<string, Uint8Array>) =>
    [...zip.keys()].filter((name) => name !== 'manifest.json').map((name) => name.split('/').pop());
  const alone = await soundsTakenOut(copy, { only: [sample!.file!] });
  expect(namesIn(alone.zip)).toEqual([`${sample!.name}.wav`]);
  const playing = await soundsTakenOut(copy, { only: [program!.file!] });
  expect(namesIn(playing.zip)).toEqual([`${sample!.name}.wav`, `${program!.name}.sfz`]);
  const indexed = () => db().select().from(sounds).where(eq(sounds.fileId, sample!.file!));
  await until('the row', async () => (await indexed()).length > 0);
  const wav = await soundAsWav(db(), sample!.file!, false);
  expect(wav.headers.get('content-disposition')).toContain(`${sample!.name}.wav`);
  const bytes = Buffer.from(await wav.arrayBuffer());
  expect(Number(wav.headers.get('content-length'))).toBe(bytes.length);
  expect(bytes.equals(Buffer.from([...alone.zip.values()][0]!))).toBe(true);
  // Of files of another copy nothing would come.
  const other = await copyOf('s-tuning.img');
  const only = [sample!.file!];
  await expect(
    startExtract(db(), who, { copies: [other], what: 'sounds', only }),
  ).rejects.toMatchObject({ status: 404 });
  // What is a program is no sound.
  await expect(soundAsWav(db(), program!.file!, false)).rejects.toMatchObject({ status: 404 });
});

test('what is the same is written once where that is asked, and the manifest says where it is', async () => {
  const { code } = await takeIn(db(), who, { name: 'floppy.img' }, fogWavesampleFloppy());
  const copy = (await mediumDetail(db(), code)).copy!.id;
  const wavsIn = (zip: Map<string, Uint8Array>) =>
    [...zip].filter(([name]) => name.endsWith('.wav')).map(([, bytes]) => sha256Hex(bytes));
  const all = wavsIn((await soundsTakenOut(copy, {})).zip);
  const { zip } = await soundsTakenOut(copy, { once: true });
  const once = wavsIn(zip);
  expect(all.length).toBeGreaterThan(once.length);
  expect([...once].sort()).toEqual([...new Set(all)].sort());
  const [{ files: told }] = JSON.parse(Buffer.from(zip.get('manifest.json')!).toString()) as [
    { files: { file: string; isShared?: boolean }[] },
  ];
  expect(told).toHaveLength(all.length);
  expect(told.filter(({ isShared }) => isShared)).toHaveLength(all.length - once.length);
  for (const { file } of told) expect(zip.has(file)).toBe(true);
});

/** The WAV that a FLAC was made of, by the system's own program. */
function unpackedFlac(flac: Uint8Array): Buffer {
  const folder = mkdtempSync(join(tmpdir(), 'spindle-flac-test-'));
  try {
    writeFileSync(join(folder, 'x.flac'), flac);
    const args = ['-d', '-s', '--keep-foreign-metadata', '-o', 'x.wav', 'x.flac'];
    expect(spawnSync('flac', args, { cwd: folder }).status).toBe(0);
    return readFileSync(join(folder, 'x.wav'));
  } finally {
    rmSync(folder, { recursive: true });
  }
}

test('packed as FLAC they are the same WAVs', async () => {
  const copy = await copyOf('s-tuning.img');
  const { zip: plain } = await soundsTakenOut(copy, { packed: false });
  const { zip: packed } = await soundsTakenOut(copy, { packed: true });
  const flacs = [...packed.keys()].filter((name) => name.endsWith('.flac'));
  expect(flacs.length).toBeGreaterThan(1);
  for (const name of flacs) {
    const wav = plain.get(name.replace(/flac$/, 'wav'))!;
    expect(Buffer.compare(unpackedFlac(packed.get(name)!), wav)).toBe(0);
  }
});

test('of a disc its tracks of sound go along, as they are recorded', async () => {
  const sound = Buffer.from(Uint8Array.from({ length: 2352 * 30 }, (_, i) => (i * 37) % 241));
  const cue =
    'FILE "reef.bin" BINARY\nTRACK 01 AUDIO\nINDEX 01 00:00:00\nTRACK 02 AUDIO\nFLAGS PRE\nINDEX 01 00:00:10\n';
  const { code } = await takeIn(db(), who, { name: 'reef.bin', cue }, sound);
  const { id } = (await mediumDetail(db(), code)).copy!;
  const { zip } = await soundsTakenOut(id, { packed: true });
  const [{ files: told }] = JSON.parse(Buffer.from(zip.get('manifest.json')!).toString()) as [
    { files: { file: string; hasPreEmphasis: boolean; pcmSha256: string }[] },
  ];
  expect(told.map(({ hasPreEmphasis }) => hasPreEmphasis)).toEqual([false, true]);
  const frames = told.map(({ file }) => strictWav(unpackedFlac(zip.get(file)!)).data);
  expect(Buffer.compare(Buffer.concat(frames), sound)).toBe(0);
  expect(told.map(({ pcmSha256 }) => pcmSha256)).toEqual(frames.map((each) => sha256Hex(each)));
});

test('a sound from the desktop becomes a sample of an assembled disk, which is kept and heard', async () => {
  const disk = withRoom(loadVector('sound/s-tuning.img'), 3);
  const { code } = await takeIn(db(), who, { name: 'rooms.img' }, disk);
  const base = (await mediumDetail(db(), code)).copy!.id;
  const [first] = await samplesOf(base);
  const { id } = await startAssembly(db(), who, { title: 'With one more', baseId: base });
  const [folder] = (await soundsOfCopy(db(), base)).volumes[0]!.folders;
  const wav = loadVector('sound/put-8bit.wav');
  const where = folder!.path.join('/');
  const outcome = await addUpload(db(), id, 'Low horn.wav', where, wav);
  expect(outcome).toMatchObject({ put: [{ path: `${where}/LOW HORN`, doubt: null }], left: [] });
  // What became of a sound on its way is told.
  const stereo = Buffer.concat([
    wavHeader(8, { channels: 2, rate: 22_050, bits: 8 }),
    Buffer.alloc(8, 130),
  ]);
  const mixed = await addUpload(db(), id, 'both.wav', where, stereo);
  expect(mixed.put[0]!.doubt).toContain('2');
  await actOnAssembly(db(), who, id, { do: 'undo' });
  // What is no sound is no sample either, and what has no frame is refused.
  const text = new TextEncoder().encode('no sound');
  expect((await addUpload(db(), id, 'NOTE', where, text)).put).toEqual([]);
  await expect(
    addUpload(db(), id, 'empty.wav', where, eightBitWav(new Uint8Array(0))),
  ).rejects.toMatchObject({ status: 422 });
  const settled = await settledAssembly(db(), who, id);
  const { id: copy, problems } = (await mediumDetail(db(), settled)).copy!;
  expect(problems).toEqual([]);
  const samples = await samplesOf(copy);
  expect(samples.map(({ name }) => name)).toEqual([
    ...(await samplesOf(base)).map(({ name }) => name),
    'LOW HORN',
  ]);
  const bytesOf = async ({ file }: (typeof samples)[0]) =>
    new Uint8Array(await (await fileToHear(db(), file!)).arrayBuffer());
  expect(sha256Hex(await bytesOf(samples[0]!))).toBe(sha256Hex(await bytesOf(first!)));
  const { data } = strictWav(Buffer.from(wav));
  const added = (await bytesOf(samples.at(-1)!)).subarray(150);
  const values = new Int16Array(added.slice(0, 2 * data.length).buffer);
  expect([...values]).toEqual([...data].map((value) => (value - 128) * 256));
});

test('a sound from the desktop goes into a bank of a wavesample floppy, and is heard there', async () => {
  const base = await copyOf('w-gaps.img');
  const before = await samplesOf(base);
  const inBank = (all: typeof before) => all.filter(({ path }) => path.startsWith('upper-1/'));
  const { id } = await startAssembly(db(), who, { title: 'With a horn', baseId: base });
  const wav = loadVector('sound/put-8bit.wav');
  const outcome = await addUpload(db(), id, 'Low horn.wav', 'upper-1', wav);
  expect(outcome).toMatchObject({ put: [{ path: 'upper-1/wave-4' }], left: [] });
  const text = new TextEncoder().encode('no sound');
  await expect(addUpload(db(), id, 'NOTE', 'upper-1', text)).rejects.toMatchObject({ status: 422 });
  // There is room on the disk, and not in this bank: nothing is put, and what was stays.
  const long = eightBitWav(new Uint8Array(60_000).fill(130));
  const tooLong = await addUpload(db(), id, 'long.wav', 'upper-1', long);
  expect(tooLong).toMatchObject({ put: [], left: [{ name: 'long.wav' }] });
  // Beside the banks there is no place for it.
  await expect(addUpload(db(), id, 'Low horn.wav', '', wav)).rejects.toMatchObject({ status: 422 });
  // Heard before it is kept: as it was put in, but for the value that stops a wave.
  const heard = await soundOfAssembly(db(), id, 'upper-1/wave-4');
  expect([...strictWav(Buffer.from(await heard.arrayBuffer())).data]).toEqual(
    [...strictWav(Buffer.from(wav)).data].map((value) => Math.max(1, value)),
  );
  await expect(soundOfAssembly(db(), id, 'upper-1/wave-9')).rejects.toMatchObject({ status: 404 });
  const settled = await settledAssembly(db(), who, id);
  const { id: copy } = (await mediumDetail(db(), settled)).copy!;
  const samples = await samplesOf(copy);
  expect(samples).toHaveLength(before.length + 1);
  const bytes = await Promise.all(
    inBank(samples).map(async ({ file }) =>
      sha256Hex(new Uint8Array(await (await fileToHear(db(), file!)).arrayBuffer())),
    ),
  );
  const own = await Promise.all(
    inBank(before).map(async ({ file }) =>
      sha256Hex(new Uint8Array(await (await fileToHear(db(), file!)).arrayBuffer())),
    ),
  );
  // The case's own digest of what it is in a bank.
  const put = '8059dca8c65f013ac0ebb1b62647d355820a06b80ce94b90484614fdfcd943a1';
  expect(bytes).toEqual([...own, put]);
});

test('the sheet of a medium says of each sound by which programs it is played, of each program what it lacks', async () => {
  const copy = await copyOf('p-missing.img');
  const sheet = async (asJson: boolean) => (await soundSheet(db(), copy, asJson)).text();
  const rows = (await sheet(true))
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as Record<string, string | number>);
  const folders = (await soundsOfCopy(db(), copy)).volumes.flatMap(({ folders: own }) => own);
  const count = folders.reduce((sum, each) => sum + each.samples.length + each.programs.length, 0);
  expect(rows).toHaveLength(count);
  const [program] = rows.filter(({ kind }) => kind === 'program');
  const lacking = folders
    .flatMap(({ programs }) => programs[0]?.regions ?? [])
    .filter(({ sample }) => sample === null)
    .map(({ sampleName }) => sampleName);
  expect(lacking.length).toBeGreaterThan(0);
  expect(program!.lacks).toBe([...new Set(lacking)].join('; '));
  const played = rows.filter(({ played_by: by }) => by === program!.name);
  expect(played.map(({ kind }) => kind)).toEqual(played.map(() => 'sample'));
  expect(played.length).toBeGreaterThan(0);
  const [heads, first] = (await sheet(false)).split('\r\n');
  expect(heads!.split(',').slice(0, 4)).toEqual(['kind', 'folder', 'name', 'rate']);
  expect(first!.split(',')).toHaveLength(heads!.split(',').length);
});

test('pre-emphasis of a disc is told by its sheet, and taken out only where that is asked', async () => {
  const sound = Buffer.from(Uint8Array.from({ length: 2352 * 30 }, (_, i) => (i * 31) % 251));
  const cue =
    'FILE "mole.bin" BINARY\nTRACK 01 AUDIO\nINDEX 01 00:00:00\nTRACK 02 AUDIO\nFLAGS PRE\nINDEX 01 00:00:10\n';
  const { code } = await takeIn(db(), who, { name: 'mole.bin', cue }, sound);
  const { id } = (await mediumDetail(db(), code)).copy!;
  const { tracks } = await soundsOfCopy(db(), id);
  expect(tracks.map(({ hasPreEmphasis }) => hasPreEmphasis)).toEqual([false, true]);
  const wavOf = async (track: number, isDeEmphasised: boolean) => {
    const answer = await copyPart(db(), id, 'sound', { track, isDeEmphasised });
    return strictWav(Buffer.from(await answer.arrayBuffer()));
  };
  const [kept, plain, flat] = [await wavOf(2, false), await wavOf(1, true), await wavOf(2, true)];
  expect(Buffer.compare(kept.data, sound.subarray(10 * 2352))).toBe(0);
  expect(Buffer.compare(plain.data, sound.subarray(0, 10 * 2352))).toBe(0);
  expect([flat.bits, flat.channels, flat.data.length]).toEqual([24, 2, (20 * 2352 * 3) / 2]);
  const filtered = new DeEmphasis(2).take(sound.subarray(10 * 2352));
  expect(Buffer.compare(flat.data, filtered)).toBe(0);
  expect(await (await copyPart(db(), id, 'cue')).text()).toContain('FLAGS PRE');
  const rows = (await (await soundSheet(db(), id, true)).text()).trim().split('\n');
  expect(
    rows.map((row) => (JSON.parse(row) as { has_pre_emphasis: boolean }).has_pre_emphasis),
  ).toEqual([false, true]);
});

test('a disc is gone through from a track on: any range, with gaps, silence and treble let down', async () => {
  const sound = Buffer.from(Uint8Array.from({ length: 2352 * 60 }, (_, i) => (i * 37) % 241));
  const cue =
    'FILE "quay.bin" BINARY\nTRACK 01 AUDIO\nINDEX 01 00:00:00\nTRACK 02 AUDIO\nFLAGS PRE\nPREGAP 00:00:03\n' +
    'INDEX 00 00:00:10\nINDEX 01 00:00:15\nINDEX 02 00:00:40\n';
  const { code } = await takeIn(db(), who, { name: 'quay.bin', cue }, sound);
  const { id } = (await mediumDetail(db(), code)).copy!;
  const asked = async (range: string | null, isDeEmphasised: boolean) => {
    const headers = new Headers(range === null ? {} : { range: `bytes=${range}` });
    const how = { track: 1, through: true, isDeEmphasised, headers };
    const answer = await copyPart(db(), id, 'sound', how);
    return { status: answer.status, bytes: Buffer.from(await answer.arrayBuffer()) };
  };
  const plain = await asked(null, false);
  const silence = Buffer.alloc(3 * 2352);
  const [first, second] = [sound.subarray(0, 10 * 2352), sound.subarray(10 * 2352)];
  expect(strictWav(plain.bytes).data).toEqual(Buffer.concat([first, silence, second]));
  const flat = await asked(null, true);
  const filter = new DeEmphasis(2);
  const { bits, data } = strictWav(flat.bytes);
  expect([bits, data.length]).toEqual([24, (63 * 2352 * 3) / 2]);
  expect(data.subarray((18 * 2352 * 3) / 2)).toEqual(
    Buffer.from(filter.take(sound.subarray(15 * 2352))),
  );
  for (const whole of [plain, flat])
    for (const [from, to] of [
      [0, 43],
      [20, 60_001],
      [23_000, 24_000],
      [47_003, 99_999],
      [80_000, whole.bytes.length - 1],
    ]) {
      const part = await asked(`${from}-${to}`, whole === flat);
      expect(part.status).toBe(206);
      expect(Buffer.compare(part.bytes, whole.bytes.subarray(from, to! + 1))).toBe(0);
    }
  const { disc } = await soundsOfCopy(db(), id);
  expect(disc.map(({ indexes }) => indexes)).toEqual([undefined, [25]]);
  await expect(copyPart(db(), id, 'sound', { track: 3, through: true })).rejects.toMatchObject({
    status: 404,
  });
});

test('a disc of sound whose image was cut comes in, and that it was cut is told; without a sheet it is not known', async () => {
  const sound = new Uint8Array(2352 * 30 + 101).fill(7);
  const cue = 'FILE "mole.bin" BINARY\nTRACK 01 AUDIO\nINDEX 01 00:00:00\n';
  const { code, kind } = await takeIn(db(), who, { name: 'mole.bin', cue }, sound);
  const { copy } = await mediumDetail(db(), code);
  expect([kind, copy!.problems.map((problem) => problem.kind)]).toEqual([
    'disc',
    ['truncated-image'],
  ]);
  expect([copy!.finding, await contentsOf(db(), copy!.id)]).toEqual([null, []]);
  const raw = await copyPart(db(), copy!.id, 'capture');
  expect(sha256Hex(new Uint8Array(await raw.arrayBuffer()))).toBe(sha256Hex(sound));
  await expect(takeIn(db(), who, { name: 'mole.bin' }, sound)).rejects.toMatchObject({
    status: 422,
    code: 'intake.isNeitherAFlux',
  });
});
