/**
 * A page of one medium: its docket fetched while the page is rendered; what there is none of is not
 * found.
 */
import { notFound } from 'next/navigation';
import type { ReactNode } from 'react';
import { sharedConnection } from '@/server/platform/db/database';
import { UserError } from '@/server/platform/errors';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { docketQuery } from '@/ui/data/queries';
import { PrefetchBoundary } from '@/app/prefetch-boundary';

export async function WithDocket({ code, children }: { code: string; children: ReactNode }) {
  const docket = await mediumDetail(sharedConnection().db, code).catch((error: unknown) => {
    if (error instanceof UserError && error.status === 404) notFound();
    throw error;
  });
  return (
    <PrefetchBoundary answers={[{ key: docketQuery(code).queryKey, fetch: async () => docket }]}>
      {children}
    </PrefetchBoundary>
  );
}
