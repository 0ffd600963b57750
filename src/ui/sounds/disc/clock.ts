export const SECTORS_A_SECOND = 75;

/** Sectors of sound as minutes and seconds; before a track they count down to it. */
export function clock(sectors: number): string {
  const seconds = Math.floor(Math.abs(sectors) / SECTORS_A_SECOND);
  const sign = sectors < 0 ? '−' : '';
  return `${sign}${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
}
