/** What is registered and said of a medium, as it leaves the house beside an image. */
import { z } from 'zod';
import { MEDIUM_FORMS } from '../medium-form';
import { ACQUISITION_WAYS } from './acquisition';
import { ELEMENTS } from './elements';

export const MediumRecord = z.strictObject({
  code: z.string(),
  form: z.enum(MEDIUM_FORMS),
  title: z.string(),
  sticker: z.string(),
  lender: z.string(),
  lot: z.string(),
  machine: z.string().optional().describe('what it was used in'),
  set: z.string(),
  place: z.int().nullable().describe('its place in the set'),
  rights: z
    .strictObject({
      statement: z.string().describe('a URI; empty where only words say it'),
      words: z.string(),
    })
    .optional(),
  elements: z
    .partialRecord(z.enum(ELEMENTS), z.array(z.string()))
    .describe('elements of Dublin Core; what it does not say itself is of its set or of its lot'),
  acquisition: z
    .strictObject({
      from: z.string(),
      on: z.string().describe('a date of EDTF; empty where it is not known'),
      how: z.enum(ACQUISITION_WAYS),
      notes: z.string(),
    })
    .nullable(),
});
export type MediumRecord = z.output<typeof MediumRecord>;
