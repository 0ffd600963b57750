/** What the correction of many media takes: of each, what is registered and what is said of it. */
import { z } from 'zod';
import { say } from '@/messages';
import { DescriptionRow } from '../descriptions/new-description';
import { atMost, MediumCorrection } from './new-medium';

/** Most media corrected at once. */
const MOST_CORRECTED = 2000;
export const ManyCorrections = z.object({
  media: z
    .array(
      z.object({
        code: atMost(60),
        change: MediumCorrection,
        description: DescriptionRow.optional(),
      }),
    )
    .min(1, say.forms.thereIsNothingToCorrect)
    .max(MOST_CORRECTED, say.forms.atMostAtOnce({ maxAtOnce: MOST_CORRECTED })),
  /** Of what was shown; null asks for it to be shown. */
  seen: z
    .string()
    .regex(/^[0-9a-f]{64}$/)
    .nullable(),
});
