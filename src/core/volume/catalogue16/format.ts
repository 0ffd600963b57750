/** Blank 16-sector catalogue volumes. */
import { putNumber } from '../record';
import {
  CONTENTS,
  CONTENTS_FIELDS,
  CONTENTS_TRACK,
  IMAGE_BYTES,
  LAST_SECTOR,
  LINK,
  PAIRS,
  SECTOR,
  SECTORS,
  TRACKS,
  trackMapAt,
} from './records';

/**
 * A disk with nothing on it; the three first tracks are kept for a system, as on disks that start
 * one.
 */
export function formatCatalogue16({
  volume = 254,
  keepsSystemTracks = true,
}: { volume?: number; keepsSystemTracks?: boolean } = {}): Uint8Array {
  const image = new Uint8Array(IMAGE_BYTES);
  const contents = image.subarray(CONTENTS);
  image.set([4, CONTENTS_TRACK, LAST_SECTOR, 3, 0, 0, volume], CONTENTS);
  putNumber(contents, CONTENTS_FIELDS.pairsAList, PAIRS);
  contents.set([CONTENTS_TRACK, 1], CONTENTS_FIELDS.lastTrackGiven.at);
  putNumber(contents, CONTENTS_FIELDS.tracks, TRACKS);
  putNumber(contents, CONTENTS_FIELDS.trackSectors, SECTORS);
  putNumber(contents, CONTENTS_FIELDS.sectorBytes, SECTOR);
  for (let track = keepsSystemTracks ? 3 : 0; track < TRACKS; track++)
    if (track !== CONTENTS_TRACK) contents.set([0xff, 0xff], trackMapAt(track));
  // Track 0 sector 0 ends every chain: it can't be given to a file.
  if (!keepsSystemTracks) contents[trackMapAt(0) + 1] = 0xfe;
  for (let sector = LAST_SECTOR; sector > 1; sector--)
    contents.set([CONTENTS_TRACK, sector - 1], sector * SECTOR + LINK.nextSector.at);
  return image;
}
