/** A page of a lot or of a set, fetched while it is rendered; what there is none of is not found. */
import type { ReactNode } from 'react';
import type { Database } from '@/server/platform/db/database';
import { recordPage } from '@/server/features/descriptions/record-pages';
import { recordQuery, type RecordPage } from '@/ui/data/queries';
import { orNotFound } from './or-not-found';
import { PrefetchBoundary } from './prefetch-boundary';

interface WithRecordProps {
  kind: RecordPage['kind'];
  name: string;
  children: ReactNode;
}

export function WithRecord({ kind, name, children }: WithRecordProps) {
  const record = {
    key: recordQuery(kind, name).queryKey,
    fetch: (db: Database) => recordPage(db, kind, name).catch(orNotFound),
  };
  return <PrefetchBoundary answers={[record]}>{children}</PrefetchBoundary>;
}
