/** Problems as the database can hold them. */
import type { Problem } from '@/core/problems';
import { storableSaid } from '@/server/platform/db/said-column';

export const storableProblems = (problems: readonly Problem[]) =>
  problems.map((problem) => ({ ...problem, said: storableSaid(problem.said) }));
