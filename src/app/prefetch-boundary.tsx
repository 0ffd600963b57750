/** Fetches a page's data while it is rendered, so that the first view is the whole view. */
import { dehydrate, QueryClient } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { sharedConnection, type Database } from '@/server/platform/db/database';
import { listStations } from '@/server/features/stations/stations';
import { ServerState } from '@/ui/data/server-state';
import { stationsQuery } from '@/ui/data/queries';

/** As the same answer would come through a route. */
const asSent = (value: unknown): unknown => JSON.parse(JSON.stringify(value));

interface PrefetchedQuery {
  key: readonly unknown[];
  fetch: (db: Database) => Promise<unknown>;
}

export async function PrefetchBoundary({
  answers,
  children,
}: {
  answers: readonly PrefetchedQuery[];
  children: ReactNode;
}) {
  const client = new QueryClient();
  const { db } = sharedConnection();
  const all = [
    ...answers,
    { key: stationsQuery.queryKey, fetch: (on: Database) => listStations(on) },
  ];
  await Promise.all(
    all.map(async ({ key, fetch }) => client.setQueryData([...key], asSent(await fetch(db)))),
  );
  return <ServerState state={dehydrate(client)}>{children}</ServerState>;
}
