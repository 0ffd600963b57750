/**
 * Tracks of 4-to-5 whose every turn is hurt, made by a damage generator apart from this project:
 * each was in doubt as a whole, or given up, before what it is about was mended.
 */
import { nodeDigester } from '@/node/digester';
import { loadExpectation, loadVector, sha256Hex } from '../../../../../tests/support/vectors';
import { readContainer } from '../../../flux/container-reader';
import { SHIPPED_LAYOUTS } from '../../../layout/shipped';
import { decodeCapture } from '../../decode/decode-capture';
import { isSound } from '../../grades';

interface Truth {
  sectors: { c: number; r: number; sha256: string }[];
}

async function read(name: string) {
  const { header, tracks } = readContainer(loadVector(`turns/${name}.fsflux`), nodeDigester);
  const decoded = await decodeCapture(header, tracks, { layouts: SHIPPED_LAYOUTS });
  const written = loadExpectation<Truth>(`turns/${name}`).sectors;
  const digests = new Map(written.map(({ c, r, sha256 }) => [`${c}/${r}`, sha256]));
  const claimed = decoded.tracks.flatMap(({ sectors }) =>
    sectors.filter(({ grade }) => isSound(grade)),
  );
  const isRight = claimed.map(({ c, r, data }) => digests.get(`${c}/${r}`) === sha256Hex(data!));
  return { right: isRight.filter(Boolean).length, claimed: claimed.length };
}

test.each([
  // Shift of 0.46 cells: no run of one cell looks like one, and the clock has only what lies even.
  ['gcr45-shift', 14],
  // Three turns that each lose one transition in 670, and one in 16,700 on the medium.
  ['gcr45-dropouts', 16],
  // All kinds of damage at once: at first sight its times are those of another code.
  ['gcr45-all-at-once', 12],
])('%s: at least %i sectors, and none wrong', async (name, least) => {
  const { right, claimed } = await read(name);
  expect(right).toBeGreaterThanOrEqual(least);
  expect(claimed).toBe(right);
});
