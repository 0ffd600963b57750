/** So many pieces of work at once and no more; the others in the order in which they came. */
export class Turns {
  private readonly waiting: (() => void)[] = [];
  private taken = 0;

  constructor(private readonly most: number) {}

  async during<T>(work: () => Promise<T>): Promise<T> {
    if (this.taken < this.most) this.taken++;
    else await new Promise<void>((resolve) => this.waiting.push(resolve));
    try {
      return await work();
    } finally {
      // Handed on as it is: nobody comes in between.
      const next = this.waiting.shift();
      if (next) next();
      else this.taken--;
    }
  }
}
