/** Several captures of one disk as one: the passes of a later one are further passes. */
import { encodeUleb128 } from '@/core/bits/varint';
import type { ContainerHeader } from '@/core/flux/container';
import { IntervalBuffer, type TrackReading } from '@/core/flux/reading';

export interface Capture {
  header: Partial<ContainerHeader> | null;
  tracks: readonly TrackReading[];
}

/** The reading with its ticks counted at another rate. */
function atRate(reading: TrackReading, fromHz: number, toHz: number): TrackReading {
  const { ticks, count } = new IntervalBuffer().unpack(reading.flux, fromHz);
  const factor = toHz / fromHz;
  const intervals: number[] = [];
  let time = 0;
  let controller = 0;
  for (let i = 0; i < count; i++) {
    time += ticks[i]! * factor;
    intervals.push(Math.round(time) - controller);
    controller = Math.round(time);
  }
  return {
    ...reading,
    index: reading.index.map((pulse) => Math.round(pulse * factor)),
    flux: encodeUleb128(intervals),
  };
}

/** The first capture's header counts; later ones are counted at its rate. */
export function joinCaptures(captures: readonly Capture[]): {
  header: Partial<ContainerHeader> | null;
  readings: TrackReading[];
} {
  const readings: TrackReading[] = [];
  const first = captures.find(({ header }) => header)?.header ?? null;
  let pass = 0;
  for (const { header, tracks } of captures) {
    let last = pass;
    for (const reading of tracks) {
      const known =
        first?.tickHz && header?.tickHz && header.tickHz !== first.tickHz
          ? atRate(reading, header.tickHz, first.tickHz)
          : reading;
      last = Math.max(last, pass + reading.pass);
      readings.push({ ...known, pass: pass + reading.pass });
    }
    pass = last + 1;
  }
  return { header: first, readings };
}
