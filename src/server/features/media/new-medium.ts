/** What the forms of media and lots take; the routes check with the same schemas. */
import { z } from 'zod';
import { CONDITION_MARKS, RECORDED_SIDES } from '@/core/condition';
import {
  isMediumCode,
  MAX_CODE_CHARACTERS,
  normalizeCode,
  parseCodePattern,
} from '@/core/medium-code';
import { DENSITIES, MEDIUM_FORMS } from '@/core/medium-form';
import { SWEEPS } from '@/core/reading/plan/plan';
import { say } from '@/messages';

/** A text of a person's, without a character that no database keeps. */
export const atMost = (limit: number) =>
  z
    .string()
    .trim()
    .max(limit, say.forms.atMostCharacters({ limit }))
    .regex(/^[^\0]*$/, say.forms.aNulCantStand);

const Origin = z.object({ jumpers: atMost(200), notes: atMost(2000) });

export const Code = z
  .string()
  .transform(normalizeCode)
  .refine(isMediumCode, say.forms.aCodeIs({ limit: MAX_CODE_CHARACTERS }));

export const NewMedium = z.object({
  code: Code,
  form: z.enum(MEDIUM_FORMS),
  title: atMost(200).min(1, say.forms.sayWhatItIs),
  labelText: atMost(500).default(''),
  lender: atMost(200).default(''),
  lot: atMost(80).default(''),
  condition: atMost(500).default(''),
  isBlank: z.boolean().default(false),
  /** Of a blank floppy. */
  density: z.enum(DENSITIES).nullable().default(null),
  marks: z.array(z.enum(CONDITION_MARKS)).default([]),
  /** Not to be read before treatment. */
  treatFirst: z.boolean().default(false),
  writeProtected: z.boolean().default(false),
  isReference: z.boolean().default(false),
  machine: atMost(200).default(''),
  shelf: atMost(200).default(''),
  /** Of a hard disk. */
  origin: Origin.nullable().default(null),
  recordedSide: z.enum(RECORDED_SIDES).default('not-said'),
  setName: atMost(200).default(''),
  setNumber: z.coerce.number().int().min(1, say.forms.aPlaceInA).max(9999).nullable().default(null),
});

/** Most media registered at once. */
const MAX_AT_ONCE = 500;
export const ManyMedia = z.object({
  media: z
    .array(NewMedium)
    .min(1, say.forms.thereIsNothingTo)
    .max(MAX_AT_ONCE, say.forms.atMostAtOnce({ maxAtOnce: MAX_AT_ONCE })),
});

/**
 * What may be said of a medium after it was registered; what is left out stays as it is, so
 * nothing has a default. Marks
 * are set one by one: two of them keyed quickly, or by two people, must not undo one another.
 */
const MediumChange = z
  .object({
    title: atMost(200).min(1, say.forms.sayWhatItIs),
    labelText: atMost(500),
    lender: atMost(200),
    lot: atMost(80),
    condition: atMost(500),
    marks: z.partialRecord(z.enum(CONDITION_MARKS), z.boolean()),
    treatFirst: z.boolean(),
    writeProtected: z.boolean(),
    recordedSide: z.enum(RECORDED_SIDES),
    machine: atMost(200),
    shelf: atMost(200),
    origin: Origin,
    setName: atMost(200),
    setNumber: z.int().min(1, say.forms.aPlaceInA).max(9999).nullable(),
  })
  .partial();

/** All that was registered may be corrected. */
export const MediumCorrection = MediumChange.extend({
  code: Code,
  form: z.enum(MEDIUM_FORMS),
  isBlank: z.boolean(),
  density: z.enum(DENSITIES).nullable(),
}).partial();

const Reason = atMost(500).min(1, say.forms.sayWhy);

/** Out of use, into use again, or found to be another that is registered as well. */
export const UseChange = z.discriminatedUnion('action', [
  z.object({ action: z.literal('withdraw'), reason: Reason }),
  z.object({ action: z.literal('reinstate'), reason: Reason }),
  z.object({ action: z.literal('merge'), reason: Reason, into: Code }),
]);

/** How many media a set should have, and what it is called. */
export const SetChange = z.object({
  /** Left out, it stays. */
  name: atMost(200).min(1, say.forms.sayWhatItIs).optional(),
  members: z.int().min(1, say.forms.atLeastOne).max(9999, say.forms.atMost9999).nullable(),
});

/** Empty where its media are numbered as the newest is. */
const CodePattern = z
  .string()
  .transform(normalizeCode)
  .refine((pattern) => pattern === '' || parseCodePattern(pattern) !== null, say.forms.aPatternHas);

/** What is known of a lender and of a machine, beside its name. */
export const NAMED_FACTS = Object.freeze({
  lenders: ['contact', 'notes'],
  machines: ['kind', 'identifier', 'notes'],
} as const);

/** A lender or a machine: its name, and what is known of it; what is left out stays. */
export const NamedChange = z
  .object({
    name: atMost(200).min(1, say.forms.sayWhatItIs),
    kind: atMost(200),
    identifier: atMost(200),
    contact: atMost(1000),
    notes: atMost(4000),
  })
  .partial();

const day = z.string().regex(/^(\d{4}-\d{2}-\d{2})?$/, say.forms.aDayIsWritten);
export const LotChange = z.object({
  /** Left out, it stays. */
  name: atMost(80).min(1, say.forms.sayWhatItIs).optional(),
  lender: atMost(200),
  cameIn: day,
  handBackBy: day,
  revolutions: z.int().min(1, say.forms.atLeastOneTurn).max(20, say.forms.atMost20Turns),
  tries: z.int().min(1, say.forms.atLeastOneReading).max(30, say.forms.atMost30Readings),
  sweep: z.enum(SWEEPS).default('inward'),
  gentle: z.boolean().default(false),
  codePattern: CodePattern.default(''),
  /** Its media that came from the lender that it had came from the one that it has. */
  withMedia: z.boolean().default(false),
});
