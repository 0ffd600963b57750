/** What the form of a receipt takes; the route checks with the same schema. */
import { z } from 'zod';
import { isDay } from '@/core/description/day';
import { say } from '@/messages';
import { RECEIPT_KINDS } from '@/server/states';
import { atMost } from '../media/new-medium';

/** Media of one receipt: more than anybody signs for at once. */
export const MAX_RECEIPT_MEDIA = 1000;

const Codes = z
  .array(z.string().max(100))
  .min(1, say.receipts.chooseMedia)
  .max(MAX_RECEIPT_MEDIA, say.forms.atMostAtOnce({ maxAtOnce: MAX_RECEIPT_MEDIA }));

/**
 * Which media: by their codes; or of all of a lot or a set, or of another receipt, those that it can
 * be true of: what is out can't go, and what is here can't come back.
 */
export const ReceiptChoice = z.union([
  z.object({ codes: Codes }),
  z.object({ lot: z.string().min(1).max(200) }),
  z.object({ set: z.string().min(1).max(200) }),
  z.object({ receipt: z.int().min(1) }),
]);

const day = z.string().refine(isDay, say.forms.aDayIsWritten);

export const NewReceipt = z
  .object({
    kind: z.enum(RECEIPT_KINDS),
    day,
    person: atMost(200).min(1, say.receipts.sayWho),
    backBy: z.union([z.literal(''), day]).default(''),
    notes: atMost(2000).default(''),
    of: ReceiptChoice,
  })
  .refine(({ kind, backBy }) => backBy === '' || kind === 'sent-out', {
    path: ['backBy'],
    error: say.receipts.onlySentOut,
  })
  .refine((receipt) => receipt.backBy === '' || receipt.backBy >= receipt.day, {
    path: ['backBy'],
    error: say.receipts.backBefore,
  });
