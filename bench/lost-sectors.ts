/** Of every single sector lost, and every directory entry, how often the rest is read as it should. */
import { LOSS_CASES, imageOf } from '../tests/support/lost/cases';
import { loseEach } from '../tests/support/lost/one-sector-lost';

export async function benchLostSectors() {
  const rows: Record<string, string | number>[] = [];
  for (const each of LOSS_CASES) {
    const { tried, right } = await loseEach(await imageOf(each), each, true);
    rows.push({
      volume: each.name,
      tried,
      right,
      share: `${((100 * right) / tried).toFixed(2)} %`,
    });
  }
  return rows;
}
