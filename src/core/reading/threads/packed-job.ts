/**
 * A decode job as it goes to another thread: the flux of all readings in one buffer, which is
 * handed over and back.
 */
import type { TrackReading } from '@/core/flux/reading';
import type { DecodeJob } from '../decode/decode-capture';

export interface PackedJob extends Omit<DecodeJob, 'groups'> {
  flux: ArrayBuffer;
  groups: (Omit<TrackReading, 'flux' | 'extra'> & { offset: number; length: number })[][];
}

/**
 * `reuse` is taken for the flux if it is large enough: fresh memory costs more than the copy into
 * it.
 */
export function packJob(job: DecodeJob, reuse: ArrayBuffer | null): PackedJob {
  const total = job.groups.reduce(
    (sum, group) => sum + group.reduce((bytes, { flux }) => bytes + flux.length, 0),
    0,
  );
  // Not a shared buffer: the engine copies out of one byte by byte, which took as long as half the
  // decoding.
  const flux =
    reuse && reuse.byteLength >= total ? reuse : new ArrayBuffer(Math.ceil(total * 1.25));
  const bytes = new Uint8Array(flux);
  let offset = 0;
  const groups = job.groups.map((group) =>
    group.map(({ cylinder, head, pass, index, flux: own }) => {
      bytes.set(own, offset);
      const packed = { cylinder, head, pass, index, offset, length: own.length };
      offset += own.length;
      return packed;
    }),
  );
  return { ...job, flux, groups };
}

export function unpackJob({ flux, groups, ...job }: PackedJob): DecodeJob {
  return {
    ...job,
    groups: groups.map((group) =>
      group.map(({ offset, length, ...reading }) => ({
        ...reading,
        flux: new Uint8Array(flux, offset, length),
      })),
    ),
  };
}
