/**
 * The simulated drive: a track written beside its place, a head that gets dirty, and what a drive
 * of sectors tells.
 */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bytesOf } from '@/core/layout/layout';
import { shippedLayout } from '@/core/layout/shipped';
import { isSound } from '@/core/reading/grades';
import { TrackDecoder } from '@/core/reading/decode/track-decoder';
import type { TrackDriveDescription } from '@/benchlink/messages';
import { Drive } from './drive';
import { Medium, type MediumFile } from './medium';

const layout = shippedLayout('mfm-35-9x512')!;
const description: TrackDriveDescription = {
  id: 'A',
  form: '3.5',
  cylinders: 82,
  heads: 2,
  tickHz: 24_000_000,
  rpm: 300,
  model: 'a drive',
  serial: '1',
  delivers: 'flux',
  writes: true,
};
const image = Uint8Array.from({ length: bytesOf(layout) }, (_, i) => (i * 31 + (i >> 7)) & 255);
const signal = new AbortController().signal;
let folder: string;

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'spindle-drive-'));
  writeFileSync(join(folder, 'disk.img'), image);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function driveWith(ageing: Partial<MediumFile['ageing']>): Drive {
  const file: MediumFile = {
    label: 'X',
    form: '3.5',
    describes: '',
    writeProtected: true,
    recorded: { layout: layout.id, image: 'disk.img' },
    ageing: {
      seed: 'x',
      jitterNs: 40,
      innerFactor: 1.4,
      peakShiftNs: 40,
      weak: [],
      dropouts: [],
      shedding: 0,
      ...ageing,
    },
  };
  const drive = new Drive(
    description,
    0,
    async () => undefined,
    () => undefined,
  );
  drive.insert(new Medium(file, join(folder, 'disk.img'), join(folder, 'none')));
  return drive;
}

const soundAt = async (
  drive: Drive,
  cylinder: number,
  approach: 'plain' | 'beside-outward' | 'beside-inward',
) => {
  const reading = await drive.read(
    { op: 'read-track', id: 1, drive: 'A', cylinder, head: 0, pass: 1, revolutions: 2, approach },
    signal,
  );
  return new TrackDecoder(description, 'all')
    .decode([reading], layout, { effort: 'plain' })
    .sectors.filter(({ grade }) => isSound(grade)).length;
};

test('a track written outward of its place is read there, and a track in its place stays readable from beside', async () => {
  const drive = driveWith({ beside: [{ cylinder: 10, head: 0, towards: 'outward' }] });
  expect(await soundAt(drive, 10, 'plain')).toBeLessThan(6);
  expect(await soundAt(drive, 10, 'beside-inward')).toBeLessThan(6);
  expect(await soundAt(drive, 10, 'beside-outward')).toBe(9);
  expect([await soundAt(drive, 11, 'plain'), await soundAt(drive, 11, 'beside-inward')]).toEqual([
    9, 9,
  ]);
});

test('a medium that sheds blinds the head until it is cleaned, with the disk back in place', async () => {
  const drive = driveWith({ shedding: 0.08 });
  expect(await soundAt(drive, 0, 'plain')).toBe(9);
  for (let i = 0; i < 10; i++) await soundAt(drive, 1, 'plain');
  expect(await soundAt(drive, 0, 'plain')).toBeLessThan(5);
  drive.clean();
  expect(await soundAt(drive, 0, 'plain')).toBe(9);
});

test('as a drive of sectors it tells each with its bytes, and says which check was wrong', async () => {
  const clean = await driveWith({}).readSectors(
    { id: 1, drive: 'A', cylinder: 5, head: 1, pass: 1, approach: 'plain' },
    signal,
  );
  expect(clean).toMatchObject({ encoding: 'mfm', rateKbps: 250, cylinder: 5, head: 1 });
  expect(clean.sectors.map(({ r, status }) => [r, status])).toEqual(
    Array.from({ length: 9 }, (_, i) => [i + 1, 'right']),
  );
  expect(clean.data).toEqual(image.subarray((5 * 2 + 1) * 9 * 512, (5 * 2 + 2) * 9 * 512));
  const hurt = await driveWith({
    dropouts: [{ cylinder: 5, head: 1, from: 0.4, to: 0.405 }],
  }).readSectors({ id: 1, drive: 'A', cylinder: 5, head: 1, pass: 1, approach: 'plain' }, signal);
  expect(hurt.sectors.filter(({ status }) => status === 'wrong-check')).toHaveLength(1);
  expect(hurt.data).toHaveLength(9 * 512);
});
