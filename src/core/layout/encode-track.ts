/** One track of an image as cells, as its layout lays it down. */
import { encodingOf, type SectorToWrite } from '../encoding';
import { transitionsOfCells, type TurnTransitions } from '../flux/synthesis';
import { formatAt, recordedId, turnCells, type Layout } from './layout';

/**
 * What a track's ID fields carry beside place and number; and which of its sectors are marked as
 * deleted, or laid down with a wrong check.
 */
export interface TrackMarksToWrite {
  idExtra?: Readonly<Record<string, number>> | null;
  deleted?: ReadonlySet<number>;
  wrongCheck?: ReadonlySet<number>;
}

/**
 * Transitions of one turn with these sectors, in the order given. Throws RangeError where the
 * layout has no such track, or they do not fit.
 */
export function encodeTrack(
  layout: Layout,
  cylinder: number,
  head: number,
  sectors: readonly { r: number; bytes: number; data: Uint8Array }[],
  { idExtra = null, deleted, wrongCheck }: TrackMarksToWrite = {},
): TurnTransitions {
  const format = formatAt(layout, cylinder, head);
  if (!format) throw new RangeError(`${layout.id} has no cylinder ${cylinder}, head ${head}`);
  const toWrite = sectors.map(({ r, bytes, data }): SectorToWrite => ({
    ...recordedId(layout, format.encoding, cylinder, head, { r, bytes }),
    idExtra,
    data,
    deleted: deleted?.has(r) ?? false,
    wrongCheck: wrongCheck?.has(r) ?? false,
  }));
  return transitionsOfCells(
    encodingOf(format.encoding).encode(toWrite, format, turnCells(format, layout.rpm)),
  );
}
