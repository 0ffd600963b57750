/** A page of a lender or of a machine, fetched while it is rendered. */
import type { ReactNode } from 'react';
import type { Database } from '@/server/platform/db/database';
import { namedPage } from '@/server/features/descriptions/named-pages';
import { namedQuery, type NamedPage } from '@/ui/data/queries';
import { orNotFound } from './or-not-found';
import { PrefetchBoundary } from './prefetch-boundary';

interface WithNamedProps {
  kind: NamedPage['kind'];
  name: string;
  children: ReactNode;
}

export function WithNamed({ kind, name, children }: WithNamedProps) {
  const record = {
    key: namedQuery(kind, name).queryKey,
    fetch: (db: Database) => namedPage(db, kind, name).catch(orNotFound),
  };
  return <PrefetchBoundary answers={[record]}>{children}</PrefetchBoundary>;
}
