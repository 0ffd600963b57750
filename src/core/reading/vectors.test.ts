/** Decoding against captures made by others: every sector of the expectation, and the digest of the flat image. */
import { loadExpectation, loadVector, sha256Hex } from '../../../tests/support/vectors';
import { nodeDigester } from '@/node/digester';
import { readContainer } from '../flux/container-reader';
import { buildFlatImage } from '../image/flat';
import { SHIPPED_LAYOUTS } from '../layout/shipped';
import { allSectors, decodeCapture } from './decode-capture';
import { isSound } from './grades';
import { angleBetween } from './turn';

interface Expectation {
  layout: string;
  flatSha256: string;
  flatBytes: number;
  sectors: {
    cylinder: number; head: number; c: number; h: number; r: number; n: number; size: number; deleted: boolean;
    grade: 'good' | 'bad' | 'absent'; sha256?: string; writtenSha256?: string; angle?: number;
  }[];
}

const CASES = ['clean-mfm-35-9x512', 'clean-mfm-35-18x512', 'light-mfm-35-9x512', 'light-mfm-35-18x512'];

describe.each(CASES)('%s', (name) => {
  const expected = loadExpectation<Expectation>(`flux/${name}`);
  const container = readContainer(loadVector(`flux/${name}.fsflux`), nodeDigester);
  const decoded = decodeCapture(container.header, container.tracks, SHIPPED_LAYOUTS);
  const sectors = allSectors(decoded).filter(({ grade }) => grade !== 'unread');

  test('the container is whole', () => {
    expect(container).toMatchObject({ complete: true, problems: [] });
  });

  test('the layout is found', () => {
    expect(decoded.layout?.id).toBe(expected.layout);
    expect(decoded.matches[0]!.confidence).toBeGreaterThan(0.9);
  });

  test('every sector is what was recorded', () => {
    const remaining = [...sectors];
    for (const want of expected.sectors) {
      const at = remaining.findIndex((got) => got.cylinder === want.cylinder && got.head === want.head && got.r === want.r
        && got.c === want.c && got.h === want.h
        && (want.grade === 'absent' ? got.grade === 'lost' : got.angle !== null && angleBetween(got.angle, want.angle!) < 0.02));
      expect({ want, found: at >= 0 }).toEqual({ want, found: true });
      const [got] = remaining.splice(at, 1);
      expect({ n: got!.n, size: got!.size, deleted: got!.deleted }).toEqual({ n: want.n, size: want.size, deleted: want.deleted });
      if (want.grade === 'good') {
        expect({ ...want, got: got!.grade }).toEqual({ ...want, got: 'firm' });
        expect(sha256Hex(got!.data!)).toBe(want.sha256);
      } else if (isSound(got!.grade)) {
        // Only what was really written may be called sound.
        expect(sha256Hex(got!.data!)).toBe(want.writtenSha256);
      } else {
        expect(got!.grade).toBe(want.grade === 'bad' ? 'doubtful' : 'lost');
      }
    }
    expect(remaining).toEqual([]);
  });

  test('the flat image is right', () => {
    const image = buildFlatImage(decoded.layout!, sectors);
    expect(image.bytes.length).toBe(expected.flatBytes);
    expect(sha256Hex(image.bytes)).toBe(expected.flatSha256);
  });
});
