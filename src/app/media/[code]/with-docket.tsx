/**
 * A page of one medium: its docket fetched while the page is rendered; what there is none of is not
 * found.
 */
import type { ReactNode } from 'react';
import type { Database } from '@/server/platform/db/database';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { docketQuery } from '@/ui/data/queries';
import { orNotFound } from '@/app/or-not-found';
import { PrefetchBoundary } from '@/app/prefetch-boundary';

export function WithDocket({ code, children }: { code: string; children: ReactNode }) {
  const docket = {
    key: docketQuery(code).queryKey,
    fetch: (db: Database) => mediumDetail(db, code).catch(orNotFound),
  };
  return <PrefetchBoundary answers={[docket]}>{children}</PrefetchBoundary>;
}
