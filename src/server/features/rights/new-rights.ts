/** What the forms of rights take; the routes check with the same schemas. */
import { z } from 'zod';
import { say } from '@/messages';
import { isDay } from '@/core/description/day';
import { atMost } from '../media/new-medium';

const isWebAddress = (text: string): boolean =>
  URL.canParse(text) && ['http:', 'https:'].includes(new URL(text).protocol);

const NewRestriction = z.object({
  reason: atMost(500).min(1, say.forms.sayWhy),
  opensOn: z
    .string()
    .trim()
    .refine((day) => day === '' || isDay(day), say.forms.aDayIsWritten),
});

/** All of it: what one person says of it, another has seen before. */
export const RightsChange = z.object({
  statement: atMost(500).refine((uri) => uri === '' || isWebAddress(uri), say.rights.aStatementIs),
  words: atMost(4000),
  restriction: NewRestriction.nullable(),
  isPersonal: z.boolean(),
});

/** To whom it is handed out although it is held, and why. */
export const NewPermit = z.object({
  recipient: atMost(200).min(1, say.rights.sayToWhom),
  reason: atMost(500).min(1, say.forms.sayWhy),
});

/** For whom things are taken out from now on; empty for nobody but who is at work. */
export const Recipient = z.object({ recipient: atMost(200) });
