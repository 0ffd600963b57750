/** Work that mostly waits, done on several things at once. */

/**
 * What `work` gives for each, in their order; at most so many are under way at a time, and they are
 * taken from `items` one after the other. Rejects with the first failure, once all that was begun
 * has ended.
 */
export async function severalAtOnce<T, R>(
  items: AsyncIterable<T>,
  most: number,
  work: (item: T) => Promise<R>,
): Promise<R[]> {
  const all: Promise<R>[] = [];
  const underWay = new Set<Promise<unknown>>();
  try {
    for await (const item of items) {
      if (underWay.size >= most) await Promise.race(underWay);
      const done = work(item);
      all.push(done);
      underWay.add(done);
      done.then(
        () => underWay.delete(done),
        () => undefined,
      );
    }
    return await Promise.all(all);
  } finally {
    await Promise.allSettled(all);
  }
}
