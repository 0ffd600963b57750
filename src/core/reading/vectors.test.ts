/**
 * Decoding against captures made by others: every sector of the expectation, and the digest of the
 * flat image.
 */
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { loadExpectation, loadVector, sha256Hex } from '../../../tests/support/vectors';
import { nodeDigester } from '@/node/digester';
import { readContainer } from '../flux/container-reader';
import { buildFlatImage } from '../image/flat';
import { SHIPPED_LAYOUTS } from '../layout/shipped';
import { allSectors, decodeCapture, type CaptureDecode } from './decode/decode-capture';
import { isSound } from './grades';
import type { TrackSector } from './track-sector';
import { angleBetween } from './decode/turn';

interface Expectation {
  layout: string;
  flatSha256: string;
  flatBytes: number;
  sectors: {
    cylinder: number;
    head: number;
    c: number;
    h: number | null;
    r: number;
    n: number | null;
    size: number;
    deleted: boolean;
    grade: 'good' | 'bad' | 'absent';
    sha256?: string;
    writtenSha256?: string;
    angle?: number;
    volume?: number;
    id1?: number;
    id2?: number;
  }[];
}

const CASES = readdirSync(join(__dirname, '../../../tests/vectors/flux')).flatMap((name) =>
  name.endsWith('.fsflux.gz') ? [name.replace('.fsflux.gz', '')] : [],
);

test('both kinds of all twelve layouts are here', () => {
  expect(CASES.sort()).toEqual(
    ['clean', 'light'].flatMap((kind) => SHIPPED_LAYOUTS.map(({ id }) => `${kind}-${id}`)).sort(),
  );
});

describe.each(CASES)('%s', (name) => {
  const expected = loadExpectation<Expectation>(`flux/${name}`);
  const container = readContainer(loadVector(`flux/${name}.fsflux`), nodeDigester);
  let decoded: CaptureDecode;
  let sectors: TrackSector[];

  beforeAll(async () => {
    decoded = await decodeCapture(container.header, container.tracks, { layouts: SHIPPED_LAYOUTS });
    sectors = allSectors(decoded).filter(({ grade }) => grade !== 'unread');
  });

  test('the container is whole', () => {
    expect(container).toMatchObject({ complete: true, problems: [] });
  });

  test('the layout is found', () => {
    expect(decoded.layout?.id).toBe(expected.layout);
    expect(decoded.matches[0]!.confidence).toBeGreaterThan(0.9);
    expect(decoded.stepping).toBe(1);
    expect(decoded.strange).toEqual([]);
  });

  test('every sector is what was recorded', () => {
    const remaining = [...sectors];
    for (const want of expected.sectors) {
      const at = remaining.findIndex(
        (got) =>
          got.cylinder === want.cylinder &&
          got.head === want.head &&
          got.r === want.r &&
          got.c === want.c &&
          got.h === want.h &&
          (got.angle === null
            ? want.grade === 'absent' && got.grade === 'lost'
            : angleBetween(got.angle, want.angle!) < 0.02),
      );
      expect({ want, found: at >= 0 }).toEqual({ want, found: true });
      const [got] = remaining.splice(at, 1);
      expect({ n: got!.n, size: got!.size, deleted: got!.deleted }).toEqual({
        n: want.n,
        size: want.size,
        deleted: want.deleted,
      });
      if (want.grade === 'good') {
        expect({ ...want, got: got!.grade, why: got!.why }).toEqual({
          ...want,
          got: 'firm',
          why: got!.why,
        });
        expect(sha256Hex(got!.data!)).toBe(want.sha256);
        for (const key of ['volume', 'id1', 'id2'] as const)
          if (want[key] !== undefined) expect(got!.idExtra?.[key]).toBe(want[key]);
      } else if (isSound(got!.grade)) {
        // Only what was really written may be called sound.
        expect(sha256Hex(got!.data!)).toBe(want.writtenSha256);
        expect(got!.grade).toBe('mended');
      } else {
        expect(got!.grade).toBe(want.grade === 'bad' ? 'doubtful' : 'lost');
      }
    }
    expect(remaining).toEqual([]);
  });

  test('the flat image is right', () => {
    // A sector that was put together from several turns fills its place here; the expectation has
    // zeros there.
    const plain = sectors.map((sector) =>
      sector.grade === 'mended' ? { ...sector, grade: 'doubtful' as const } : sector,
    );
    const image = buildFlatImage(decoded.layout!, plain);
    expect(image.bytes.length).toBe(expected.flatBytes);
    expect(sha256Hex(image.bytes)).toBe(expected.flatSha256);
  });
});
