/** What holds sounds, by names alone: for pages, which need none of the readers for it. */

/** Families whose volumes hold sounds in forms of their own. */
const SOUNDING = Object.freeze(['sampler', 'wavesample']);

/** What volumes of these families call their files of sound: waves, and samples of either size. */
const SAMPLE_TYPES = Object.freeze(['wave', 's']);

export const isSampleType = (type: string | null | undefined): boolean =>
  SAMPLE_TYPES.includes(type ?? '');

export const holdsSounds = (filesystem: string): boolean => SOUNDING.includes(filesystem);
