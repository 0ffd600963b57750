/**
 * A page of one medium: its docket fetched while the page is rendered; what there is none of is not
 * found.
 */
import { notFound } from 'next/navigation';
import type { ReactNode } from 'react';
import { sharedConnection } from '@/server/db/database';
import { UserError } from '@/server/errors';
import { docketOf } from '@/server/services/docket';
import { docketQuery } from '@/ui/data/queries';
import { FirstAnswers } from '../../first-answers';

export async function WithDocket({ code, children }: { code: string; children: ReactNode }) {
  const docket = await docketOf(sharedConnection().db, code).catch((error: unknown) => {
    if (error instanceof UserError && error.status === 404) notFound();
    throw error;
  });
  return (
    <FirstAnswers answers={[{ key: docketQuery(code).queryKey, fetch: async () => docket }]}>
      {children}
    </FirstAnswers>
  );
}
