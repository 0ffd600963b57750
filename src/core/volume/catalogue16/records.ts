/** Places and marks of a 16-sector catalogue. */

export const SECTOR = 256;

export const CONTENTS_TRACK = 17;

export const PAIRS = 122;
