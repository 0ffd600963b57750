/** Timing in-process: the first run cold, some more to warm up, then the median of warm ones. */

export interface Timing {
  coldMs: number;
  medianMs: number;
}

const WARM_UP = 6;

export async function time(run: () => unknown, times = 7): Promise<Timing> {
  const all: number[] = [];
  for (let i = 0; i <= WARM_UP + times; i++) {
    const start = performance.now();
    await run();
    all.push(performance.now() - start);
  }
  const coldMs = all[0]!;
  const warm = all.slice(1 + WARM_UP);
  return { coldMs, medianMs: warm.sort((a, b) => a - b)[warm.length >> 1]! };
}
