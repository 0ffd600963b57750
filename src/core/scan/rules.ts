/**
 * Signature rules, as archivists write them: a pattern of bytes, where it is looked for, and what
 * it means.
 */
import { z } from 'zod';

const LEAST_BYTES = 4;
const MAX_BYTES = 4096;
const MAX_RULES = 10_000;

const HEX = /^(?:[0-9a-f]{2}|\?\?)+$/i;

/**
 * Two bytes side by side are given: without them a pattern would have to be tried at every place.
 */
const hasPair = (pattern: string) =>
  (pattern.match(/../g) ?? []).some(
    (byte, i, all) => byte !== '??' && all[i + 1] !== undefined && all[i + 1] !== '??',
  );

export const SignatureRule = z.strictObject({
  id: z
    .string()
    .regex(/^[a-z0-9][a-z0-9.-]{0,59}$/, 'an id is 1 to 60 small letters, digits, "-" and "."'),
  name: z.string().min(1).max(200),
  where: z.enum(['boot', 'anywhere']),
  pattern: z
    .string()
    .transform((text) => text.replace(/\s+/g, ''))
    .refine((text) => HEX.test(text), 'a pattern is pairs of hexadecimal digits, ?? for any byte')
    .refine(
      (text) => text.length >= LEAST_BYTES * 2 && text.length <= MAX_BYTES * 2,
      `a pattern has ${LEAST_BYTES} to ${MAX_BYTES} bytes`,
    )
    .refine(hasPair, 'a pattern needs two bytes side by side that are given'),
  note: z.string().max(1000).default(''),
});
export type SignatureRule = z.output<typeof SignatureRule>;
export const SignatureRules = z
  .array(SignatureRule)
  .max(MAX_RULES)
  .refine(
    (rules) => new Set(rules.map(({ id }) => id)).size === rules.length,
    'an id stands twice',
  );

/** A pattern as bytes; −1 for any byte. */
export function patternBytes(pattern: string): Int16Array {
  return Int16Array.from(pattern.match(/../g) ?? [], (pair) =>
    pair === '??' ? -1 : parseInt(pair, 16),
  );
}

/**
 * What a person types to search for: `"text"`, or hexadecimal with ??. Null where it is neither.
 */
export function searchPattern(typed: string): Int16Array | null {
  const quoted = /^"(.+)"$/s.exec(typed.trim());
  if (quoted) return Int16Array.from(new TextEncoder().encode(quoted[1]));
  const hex = typed.replace(/\s+/g, '');
  return HEX.test(hex) && hex.length >= 4 && /[0-9a-f]/i.test(hex) ? patternBytes(hex) : null;
}
