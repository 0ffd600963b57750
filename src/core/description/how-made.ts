/** How an image came to be: when, by whom, with which program and which drives. */
import { z } from 'zod';

const Reading = z.strictObject({
  startedAt: z.iso.datetime(),
  by: z.string(),
  station: z.int(),
  drive: z.string().describe('what the drive says of itself'),
});

export const HowMade = z.strictObject({
  at: z.iso.datetime(),
  by: z.string(),
  program: z.string().describe('its version; empty of images from before it was noted'),
  from: z.enum(['sitting', 'upload', 'assembly']),
  readings: z.array(Reading).describe('sittings at which its medium was read until then'),
});
export type HowMade = z.output<typeof HowMade>;
