/**
 * Ten thousand random edit sequences of each family of volumes, each held against a model of it.
 */
import { EDITED, editSequence } from '../tests/support/edits/edit-model';

const EDITS = 12;

export async function benchEdits(sequences: number) {
  const rows = [];
  for (const family of EDITED) {
    const start = performance.now();
    let [made, refused, wrong] = [0, 0, 0];
    let first = '';
    for (let i = 0; i < sequences; i++) {
      try {
        const result = await editSequence(family, `bench ${i}`, EDITS);
        made += result.made;
        refused += result.refused;
      } catch (error) {
        wrong++;
        first ||= (error as Error).message.slice(0, 120);
      }
    }
    rows.push({
      volume: family.name,
      sequences,
      'edits made': made,
      'edits refused': refused,
      'sequences that parted from the model': wrong,
      first,
      'ms a sequence': ((performance.now() - start) / sequences).toFixed(1),
    });
  }
  return rows;
}
