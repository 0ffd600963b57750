/** Problems as the database can hold them. */
import type { Said } from '@/core/said';
import type { Problem } from '@/core/problems';
import { sanitizeText } from '@/server/platform/db/sanitize-text';

/** The same without characters that the database can't hold. */
const storableSaid = (said: Said): Said =>
  JSON.parse(JSON.stringify(said), (_, value: unknown) =>
    typeof value === 'string' ? sanitizeText(value) : value,
  ) as Said;

export const storableProblems = (problems: readonly Problem[]) =>
  problems.map((problem) => ({ ...problem, said: storableSaid(problem.said) }));
