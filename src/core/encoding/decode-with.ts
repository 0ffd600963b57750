/**
 * The half of decoding that all encodings share: a recovery turns a whole reading into cells, a
 * field reader takes them.
 */
import { IntervalBuffer, type TrackReading } from '../flux/reading';
import type { DecodeOptions, Encoding, ReadingDecode } from './encoding';
import { LOOPS, recoverByLoop } from './recovery/loop';
import { RunStream } from './recovery/run-stream';
import { SteppedStream } from './recovery/stepped-stream';
import type { RunRange } from './recovery/cell-gains';
import type { CellStream } from './recovery/cell-stream';

type FieldsReader = { read(stream: CellStream, options: DecodeOptions): ReadingDecode };

/** Scratch of its own: one a thread, not to be shared across `await`. */
export function decodeWith(fields: FieldsReader, runs: RunRange): Encoding['decode'] {
  const intervalBuffer = new IntervalBuffer();
  const stepped = new SteppedStream();
  const looped = new RunStream();
  return ({ flux }: TrackReading, options: DecodeOptions): ReadingDecode => {
    const { tickHz, recovery, cellTicks } = options;
    if (recovery === 'stepped') {
      stepped.open(flux, tickHz, cellTicks, runs.longest);
      return fields.read(stepped, options);
    }
    const intervals = intervalBuffer.unpack(flux, tickHz);
    const setting = recovery === 'by-hand' ? options.setting : LOOPS[recovery];
    if (!setting) throw new TypeError('a recovery by hand needs its setting');
    recoverByLoop(intervals, cellTicks, setting, runs, looped.open(intervals));
    return fields.read(looped, options);
  };
}
