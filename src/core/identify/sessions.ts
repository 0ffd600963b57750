/**
 * What lies on a disc behind its first volume: later sessions, each with a volume of its own, and
 * data that none of them has.
 */
import type { ByteSource } from '../bits/byte-source';
import type { Problem } from '../problems';
import { viewsOf } from '../volume/disc-volume';
import { openIso9660 } from '../volume/iso9660/read';
import { FIRST_DESCRIPTOR, SECTOR } from '../volume/iso9660/records';
import { lookBehind, sessionSource } from '../volume/iso9660/sessions';
import type { Volume } from '../volume/volume';
import type { FoundVolume } from './found-volume';
import { said } from '@/core/said';

/** Of the field of the first descriptor that says how many blocks the volume has. */
const SPACE_AT = FIRST_DESCRIPTOR * SECTOR + 80;
const CERTAIN = 0.97;

const entriesOf = (volume: Volume) => [
  ...volume.entries,
  ...viewsOf(volume).flatMap(({ entries }) => entries),
];

/** The sector behind everything that a volume lists. */
function endOfFiles(volume: Volume): number {
  let end = 0;
  for (const { extents } of entriesOf(volume))
    for (const { offset, length } of extents) end = Math.max(end, offset + length);
  return Math.ceil(end / SECTOR);
}

/** Whether a file of a volume lies over a sector: an image within an image is no session. */
const isInFile = ({ volume, offset: base }: FoundVolume, sector: number): boolean => {
  const [from, to] = [sector * SECTOR - base, (sector + 1) * SECTOR - base];
  return entriesOf(volume).some(({ extents }) =>
    extents.some(({ offset, length }) => offset < to && offset + length > from),
  );
};

async function endAsStated(source: ByteSource): Promise<number> {
  const bytes = await source.read(SPACE_AT, 4);
  return bytes.length < 4 ? 0 : new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true);
}

interface BehindVolume {
  /** The disc's volumes by session, the first with them; only it where there is no other. */
  volumes: FoundVolume[];
  problems: Problem[];
}

export async function sessionsBehind(
  source: ByteSource,
  first: FoundVolume,
): Promise<BehindVolume> {
  const stated = await endAsStated(source);
  const files = endOfFiles(first.volume);
  const { sessions, firstUsed } = await lookBehind(source, files, Math.max(files, stated));
  const volumes = [first];
  for (const start of sessions) {
    if (volumes.some((found) => isInFile(found, start + FIRST_DESCRIPTOR))) continue;
    const { session, offset } = await sessionSource(source, start);
    volumes.push({
      volume: await openIso9660(session),
      partition: volumes.length + 1,
      offset,
      length: source.size - offset,
      confidence: CERTAIN,
      reasons: [said('identify.laterSession', { number: volumes.length + 1, sector: start })],
    });
  }
  if (volumes.length > 1)
    return { volumes: [{ ...first, partition: 1 }, ...volumes.slice(1)], problems: [] };
  return { volumes, problems: firstUsed === null ? [] : [behind(firstUsed)] };
}

const behind = (sector: number): Problem => ({
  kind: 'data-behind-volume',
  offset: sector * SECTOR,
  said: said('identify.dataBehindTheVolume', { sector }),
});
