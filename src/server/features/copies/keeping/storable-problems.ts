/** Problems as the database can hold them. */
import type { Problem } from '@/core/problems';
import { sanitizeText } from '@/server/platform/db/sanitize-text';

export const storableProblems = (problems: readonly Problem[]) =>
  problems.map((problem) => ({ ...problem, message: sanitizeText(problem.message) }));
