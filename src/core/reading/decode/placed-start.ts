/** Where a field begins in a turn. */
import { type FieldStart } from '@/core/encoding';

/** A field start with where it was seen. */
export interface PlacedStart extends FieldStart {
  reading: number;
  pass: number;
  turn: number;
  angle: number;
}
