/**
 * Marks of tracks with ID fields: FM (ECMA-54 §"address marks", ECMA-66) and MFM (ECMA-78,
 * ECMA-100, ISO 8860), and
 * the limits that both share.
 */

/** MFM: A1h with its fifth clock missing, as 16 half cells. */
export const SYNC_A1 = 0x4489;
/** MFM: C2h with its fourth clock missing, as 16 half cells. */
export const SYNC_C2 = 0x5224;
/** FM: the index mark FCh with clock D7h, as 16 half cells. */
export const FM_INDEX_CELLS = 0xf77a;
/** Clock byte of FM's ID and data marks: three clocks are missing. */
export const FM_MARK_CLOCK = 0xc7;

export const MARK_INDEX = 0xfc;
export const MARK_ID = 0xfe;
export const MARK_DATA = 0xfb;
export const MARK_DELETED = 0xf8;
/** Sector size code above which an ID field is taken for damaged. */
export const MAX_SIZE_CODE = 7;
/** From the end of an ID's check to its data mark, in byte cells. */
export const MAX_ID_TO_DATA = 60;
/** CRC register after three A1h. */
export const CRC_AFTER_SYNC = 0xcdb4;

/** FBh and F8h; F9h and FAh occur on some disks and are read as data too. */
export function isDataMark(mark: number): boolean {
  return mark >= 0xf8 && mark <= 0xfb;
}

/** F8h and F9h say that the data were deleted. */
export function isDeletedMark(mark: number | null): boolean {
  return mark === 0xf8 || mark === 0xf9;
}

export function sectorSize(n: number): number {
  return 128 << n;
}
