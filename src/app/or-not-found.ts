/** What there is none of is not found, as a page says it. */
import { notFound } from 'next/navigation';
import { UserError } from '@/server/platform/errors';

export const orNotFound = (error: unknown): never => {
  if (error instanceof UserError && error.status === 404) notFound();
  throw error;
};
