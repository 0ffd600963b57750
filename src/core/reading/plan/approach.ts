/** How the head comes to the track, or stands beside it by a part of a step. */
export const APPROACHES = Object.freeze([
  'plain',
  'from-outside',
  'from-inside',
  'beside-outward',
  'beside-inward',
] as const);
export type Approach = (typeof APPROACHES)[number];
