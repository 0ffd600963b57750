/**
 * Where each file stands on the capacity ruler: in the target's own units, one behind the other,
 * with the folders' own first and what is free at the end.
 */

export interface RulerEntry {
  path: string;
  cost: number | null;
  change: string | null;
}
interface RulerRoom {
  total: number;
  free: number;
}

interface Stretch {
  /** Null of the volume's own: folders and what files take beyond their content. */
  path: string | null;
  change: string | null;
  from: number;
  to: number;
}

export function stretchesOf({ total, free }: RulerRoom, entries: readonly RulerEntry[]): Stretch[] {
  const files = entries.filter(
    (entry): entry is RulerEntry & { cost: number } => entry.cost !== null && entry.cost > 0,
  );
  const used = total - free;
  const own = Math.max(0, used - files.reduce((sum, { cost }) => sum + cost, 0));
  const stretches: Stretch[] = own > 0 ? [{ path: null, change: null, from: 0, to: own }] : [];
  let at = own;
  for (const { path, change, cost } of files) {
    stretches.push({ path, change, from: at, to: Math.min(total, at + cost) });
    at += cost;
  }
  return stretches;
}

/** Units of one mark of the ruler: round numbers, ten to twenty of them. */
export function markEvery(total: number): number {
  const rough = total / 16;
  const power = 10 ** Math.floor(Math.log10(Math.max(1, rough)));
  return [1, 2, 5, 10].map((each) => each * power).find((each) => each >= rough) ?? power * 10;
}
