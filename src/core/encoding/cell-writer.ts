/** Writes a turn of cells, one a byte of the track, 1 = transition. */
export class CellWriter {
  readonly track: Uint8Array;
  private at = 0;

  constructor(private readonly turnCells: number) {
    this.track = new Uint8Array(turnCells);
  }

  get room(): number {
    return this.track.length - this.at;
  }

  /** The cell before, 0 at the start. */
  get last(): number {
    return this.at > 0 ? this.track[this.at - 1]! : 0;
  }

  /**
   * The lowest `count` bits of `pattern`, the highest of them first; up to 32. Throws RangeError
   * where the turn is full.
   */
  cells(pattern: number, count: number): void {
    if (this.room < count)
      throw new RangeError(
        `the sectors do not fit on the track: its turn has ${this.turnCells} cells, and ` +
          'all of them are used',
      );
    for (let bit = count - 1; bit >= 0; bit--) this.track[this.at++] = (pattern >>> bit) & 1;
  }

  /** Fills what is left with a transition every third cell, which every code allows. */
  rest(): void {
    for (let since = this.last ? 0 : 1; this.at < this.track.length; since++)
      this.track[this.at++] = since % 3 === 2 ? 1 : 0;
  }
}
