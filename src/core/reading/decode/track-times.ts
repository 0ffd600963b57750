/** Times of a track's transitions, worked out once for each turn. */
import { IntervalBuffer, type TrackReading } from '@/core/flux/reading';

interface Times {
  times: Float64Array;
  count: number;
}

/** Transition times of a track's readings, worked out when first needed. */
export class TrackTimes {
  private readonly known: (Times | undefined)[] = [];

  private readonly readings: TrackReading[];

  constructor(
    readings: readonly TrackReading[],
    private readonly tickHz: number,
  ) {
    this.readings = [...readings];
  }

  /** A reading put together from others; gives its number. */
  add(reading: TrackReading): number {
    return this.readings.push(reading) - 1;
  }

  of(reading: number): Times {
    const known = this.known[reading];
    if (known) return known;
    const { ticks, count } = new IntervalBuffer().unpack(this.readings[reading]!.flux, this.tickHz);
    const times = new Float64Array(count);
    let time = 0;
    for (let i = 0; i < count; i++) times[i] = time += ticks[i]!;
    return (this.known[reading] = { times, count });
  }
}
