/** Timing in-process: the first run cold, then the median of warm ones. */

export interface Timing {
  coldMs: number;
  medianMs: number;
}

export async function time(run: () => unknown, times = 7): Promise<Timing> {
  const all: number[] = [];
  for (let i = 0; i <= times; i++) {
    const start = performance.now();
    await run();
    all.push(performance.now() - start);
  }
  const [coldMs, ...warm] = all as [number, ...number[]];
  return { coldMs, medianMs: warm.sort((a, b) => a - b)[warm.length >> 1]! };
}
