/** MFM behind the common interface (ECMA-78, ECMA-100, ISO 7487, ISO 8378, ISO 8860). */
import { IntervalBuffer, type TrackReading } from '../../flux/reading';
import type { DecodeOptions, Encoding, ReadingDecode } from '../encoding';
import { recoverByLoop } from '../recovery/loop';
import { estimateCell } from '../recovery/rate';
import { RunStream } from '../recovery/run-stream';
import { SteppedStream } from '../recovery/stepped-stream';
import { encodeMfmTrack } from './encode';
import { FieldReader } from './fields';

/** A decoder with scratch of its own: one a thread, not to be shared across `await`. */
export function createMfm(): Encoding {
  const intervalBuffer = new IntervalBuffer();
  const stepped = new SteppedStream();
  const looped = new RunStream();
  const fields = new FieldReader();
  return {
    id: 'mfm',
    decode({ flux }: TrackReading, options: DecodeOptions): ReadingDecode {
      const { tickHz, recovery, cellHint } = options;
      const cell = estimateCell(flux, tickHz, cellHint);
      if (cell === 0) return { sightings: [], badIds: 0, cellTicks: 0 };
      if (recovery === 'stepped') {
        stepped.open(flux, tickHz, cell);
        return fields.read(stepped, cell, options);
      }
      const intervals = intervalBuffer.unpack(flux, tickHz);
      recoverByLoop(intervals, cell, recovery, looped.open(intervals));
      return fields.read(looped, cell, options);
    },
    encode: encodeMfmTrack,
  };
}
