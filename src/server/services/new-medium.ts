/** What the form of a new medium takes; the route checks with the same schema. */
import { z } from 'zod';

const atMost = (limit: number) => z.string().trim().max(limit, `At most ${limit} characters.`).regex(/^[^\0]*$/, 'A NUL can\'t stand here.');

export const NewMedium = z.object({
  code: z.string().trim().toUpperCase().regex(/^[A-Z]{2,5}-\d{1,6}$/, 'A code is letters, a hyphen and a number, such as SKP-0131.'),
  form: z.enum(['3.5', '5.25', '8']),
  title: atMost(200).min(1, 'Say what it is, in a few words.'),
  labelText: atMost(500).default(''),
  lender: atMost(200).default(''),
  lot: atMost(80).default(''),
  condition: atMost(500).default(''),
  isBlank: z.boolean().default(false),
});
