/**
 * Tracks read by the account of their turns alone, without any reading turn by turn, against
 * captures made by others: every sector that they hold whole, in all four codes.
 */
import { nodeDigester } from '@/node/digester';
import { loadExpectation, loadVector, sha256Hex } from '../../../../../tests/support/vectors';
import { IntervalBuffer, type TrackReading } from '../../../flux/reading';
import { readContainer } from '../../../flux/container-reader';
import { formatAt, turnCells, type EncodingId } from '../../../layout/layout';
import { shippedLayout } from '../../../layout/shipped';
import { encodingOf } from '../../../encoding';
import { turnTicks } from '../../decode/turn';
import type { FieldRead } from '../fields/fields-of-track';
import { fourToFiveFields, sixAndTwoFields } from '../fields/group-code-fields';
import { idMarkFields } from '../fields/id-mark-fields';
import { accountOf, type TrackAccount } from '../track-account';

interface Expectation {
  layout: string;
  sectors: {
    cylinder: number;
    head: number;
    c: number;
    r: number;
    size: number;
    grade: 'good' | 'bad' | 'absent';
    sha256?: string;
    writtenSha256?: string;
  }[];
}

const READ: Record<EncodingId, (account: TrackAccount) => FieldRead[]> = {
  fm: (account) => idMarkFields(account, false),
  mfm: (account) => idMarkFields(account, true),
  'gcr-4to5': fourToFiveFields,
  'gcr-6and2': sixAndTwoFields,
};

/** Cells behind the index pulse that a sector may reach, beside its data. */
const BESIDE_DATA = 1200;

function timed(reading: TrackReading, tickHz: number, cells: number) {
  const { ticks, count } = new IntervalBuffer().unpack(reading.flux, tickHz);
  const times = new Float64Array(count);
  for (let i = 0, at = 0; i < count; i++) times[i] = at += ticks[i]!;
  return { reading, times, count, cellTicks: turnTicks(reading, 0) / cells };
}

/** What the account makes of a track, and what was recorded on it. */
function trackOf(name: string, which: 'first' | 'last') {
  const expected = loadExpectation<Expectation>(`flux/${name}`);
  const { header, tracks } = readContainer(loadVector(`flux/${name}.fsflux`), nodeDigester);
  const { cylinder } = tracks.filter(({ head }) => head === 0).at(which === 'first' ? 0 : -1)!;
  const layout = shippedLayout(expected.layout)!;
  const format = formatAt(layout, cylinder, 0)!;
  const readings = tracks
    .filter((track) => track.cylinder === cylinder && track.head === 0)
    .map((track) => timed(track, header!.tickHz!, turnCells(format, layout.rpm)));
  const largest = Math.max(...format.sectors.map(({ bytes }) => bytes));
  const behind = encodingOf(format.encoding).fieldCells(largest) + BESIDE_DATA;
  const account = accountOf(format.encoding, readings, { behind });
  return {
    fields: account ? READ[format.encoding](account) : [],
    recorded: expected.sectors.filter(
      (sector) => sector.cylinder === cylinder && sector.head === 0 && sector.grade !== 'absent',
    ),
  };
}

const LAYOUTS = ['fm-8-26x128', 'mfm-35-9x512', 'mfm-8-8x1024', 'gcr45-525-35', 'gcr62-525-16x256'];

/** By the numbers that sectors have on the disk. */
const keyOf = ({ c, r }: { c: number; r: number }) => `${c}/${r}`;

const TRACKS = LAYOUTS.flatMap((id) => [
  [`clean-${id}`, 'first'] as const,
  [`light-${id}`, 'last'] as const,
]);

describe('the account alone', () => {
  test.each(TRACKS)('%s, its %s track', (name, which) => {
    const { fields, recorded } = trackOf(name, which);
    const digests = new Map(fields.map((field) => [keyOf(field), sha256Hex(field.data)]));
    const whole = recorded.filter(({ grade }) => grade === 'good');
    expect(whole.length).toBeGreaterThan(0);
    const right = whole.filter((sector) => digests.get(keyOf(sector)) === sector.sha256);
    // Of hurt turns two leave some in doubt; of clean ones they do so of one in 4-to-5.
    const least = name.includes('gcr45') ? 20 : whole.length;
    if (name.startsWith('clean')) expect(right.length).toBeGreaterThanOrEqual(least);
    const wasWritten = new Map(
      recorded.map((sector) => [keyOf(sector), sector.writtenSha256 ?? sector.sha256]),
    );
    for (const field of fields.filter(({ belief }) => belief === 'claimed'))
      expect(digests.get(keyOf(field))).toBe(wasWritten.get(keyOf(field)));
  });
});
