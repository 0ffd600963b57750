/** What the form of a parcel takes; the route checks with the same schema. */
import { z } from 'zod';
import { say } from '@/messages';
import { atMost } from '../media/new-medium';

/** Media of one parcel. */
export const MAX_PARCEL_MEDIA = 5000;

const Codes = z
  .array(z.string().max(100))
  .min(1, say.parcels.chooseMedia)
  .max(MAX_PARCEL_MEDIA, say.forms.atMostAtOnce({ maxAtOnce: MAX_PARCEL_MEDIA }));
const Copies = z
  .array(z.int().min(1))
  .min(1, say.parcels.chooseMedia)
  .max(MAX_PARCEL_MEDIA, say.forms.atMostAtOnce({ maxAtOnce: MAX_PARCEL_MEDIA }));

/** Which media: by their codes, by images of theirs, or all of a lot or a set. */
export const ParcelChoice = z.union([
  z.object({ codes: Codes }),
  z.object({ copies: Copies }),
  z.object({ lot: z.string().min(1).max(200) }),
  z.object({ set: z.string().min(1).max(200) }),
]);

export const NewParcel = z.object({
  title: atMost(200).min(1, say.parcels.sayWhatItIs),
  recipient: atMost(200).min(1, say.rights.sayToWhom),
  notes: atMost(4000).default(''),
  of: ParcelChoice,
  withFlux: z.boolean().default(true),
  withFiles: z.boolean().default(false),
  acknowledgesQuarantine: z.boolean().default(false),
});
