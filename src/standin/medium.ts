/**
 * A made-up medium of the simulated bench: its perfect turns, made when first needed, and what was
 * written to it since.
 */
import { appendFileSync, existsSync, readFileSync } from 'node:fs';
import { z } from 'zod';
import { encodeReading } from '@/core/flux/container';
import { readContainer } from '@/core/flux/container-reader';
import type { TrackReading } from '@/core/flux/reading';
import { perfectReading, writtenTurn, type TurnTransitions } from '@/core/flux/synthesis';
import { flatTrack } from '@/core/image/flat';
import { encodeTrack } from '@/core/layout/encode-track';
import { shippedLayout } from '@/core/layout/shipped';

const share = z.number().min(0).max(1);
const Stretch = z.object({
  cylinder: z.int().min(0),
  head: z.int().min(0).max(1),
  from: share,
  to: share,
});

/** One file of the shelf. */
export const MediumFile = z.object({
  label: z.string(),
  form: z.enum(['8', '5.25', '3.5']),
  describes: z.string(),
  writeProtected: z.boolean(),
  /** Layout and image file beside this one; null for a disk that was never formatted. */
  recorded: z.object({ layout: z.string(), image: z.string() }).nullable(),
  ageing: z.object({
    seed: z.string(),
    jitterNs: z.number(),
    innerFactor: z.number(),
    peakShiftNs: z.number(),
    weak: z.array(Stretch),
    dropouts: z.array(Stretch),
    shedding: share,
    stretched: z.array(Stretch.extend({ by: z.number() })).optional(),
    beside: z
      .array(
        z.object({
          cylinder: z.int().min(0),
          head: z.int().min(0).max(1),
          towards: z.enum(['outward', 'inward']),
        }),
      )
      .optional(),
  }),
});
export type MediumFile = z.infer<typeof MediumFile>;

/** Cylinders of a medium whose tracks are twice as wide. */
const HALF_AS_MANY = 42;
/** Ticks a second of what is kept of writes. */
const WRITTEN_TICK_HZ = 24_000_000;

export class Medium {
  /** Counts readings: weak places differ from one to the next. */
  readings = 0;
  private readonly turns = new Map<number, TurnTransitions>();
  private readonly image: Uint8Array | null;

  /**
   * `writtenPath` keeps every write, so that what was written is still there after the bench was
   * switched off.
   */
  constructor(
    readonly file: MediumFile,
    imagePath: string | null,
    private readonly writtenPath: string,
  ) {
    this.image = imagePath ? readFileSync(imagePath) : null;
    if (!existsSync(writtenPath)) return;
    const written = readContainer(readFileSync(writtenPath), null);
    for (const reading of written.tracks) this.keep(reading);
  }

  /** The turn on a track, or null where nothing was ever recorded. */
  turn(cylinder: number, head: number): TurnTransitions | null {
    const key = cylinder * 2 + head;
    const there = this.turns.get(key);
    if (there) return there;
    const layout = this.file.recorded && shippedLayout(this.file.recorded.layout);
    if (!layout || !this.image || cylinder >= layout.cylinders || head >= layout.heads) return null;
    const turn = encodeTrack(layout, cylinder, head, flatTrack(layout, this.image, cylinder, head));
    this.turns.set(key, turn);
    return turn;
  }

  /**
   * What a drive of `positions` cylinders has under its head: a medium of half as many is stepped
   * twice a cylinder.
   */
  under(
    position: number,
    head: number,
    positions: number,
  ): { turn: TurnTransitions | null; between: boolean } {
    const layout = this.file.recorded && shippedLayout(this.file.recorded.layout);
    const step =
      layout &&
      layout.forms[0] === '5.25' &&
      layout.cylinders <= HALF_AS_MANY &&
      positions > 2 * HALF_AS_MANY - 10
        ? 2
        : 1;
    return { turn: this.turn(Math.floor(position / step), head), between: position % step !== 0 };
  }

  write(reading: TrackReading, tickHz: number, turnSeconds: number): void {
    const turn = writtenTurn(reading, tickHz, turnSeconds * tickHz);
    const kept = keptReading(reading, turn);
    appendFileSync(this.writtenPath, encodeReading(kept));
    this.keep(kept);
  }

  private keep(reading: TrackReading): void {
    this.turns.set(
      reading.cylinder * 2 + reading.head,
      writtenTurn(reading, WRITTEN_TICK_HZ, reading.index[1]!),
    );
  }
}

/** One turn as a reading of a fifth of a second, whatever the speed it was written at. */
function keptReading({ cylinder, head }: TrackReading, turn: TurnTransitions): TrackReading {
  return perfectReading(turn, { cylinder, head, pass: 0 }, WRITTEN_TICK_HZ / 5, 1);
}
