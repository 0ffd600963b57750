/** Fetches a page's data while it is rendered, so that the first view is the whole view. */
import { dehydrate, QueryClient } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { isConnectionLost } from '@/server/platform/db/connection-lost';
import { sharedConnection, type Database } from '@/server/platform/db/database';
import { listStations } from '@/server/features/stations/stations';
import { ServerState } from '@/ui/data/server-state';
import { stationsQuery } from '@/ui/data/queries';
import { StoreAway } from '@/ui/frame/store-away';

/** As the same answer would come through a route. */
const asSent = (value: unknown): unknown => JSON.parse(JSON.stringify(value));

interface PrefetchedQuery {
  key: readonly unknown[];
  fetch: (db: Database) => Promise<unknown>;
}

export async function PrefetchBoundary({
  answers,
  isFrame = false,
  children,
}: {
  answers: readonly PrefetchedQuery[];
  /** What is around every page: it stays, whatever was not answered. */
  isFrame?: boolean;
  children: ReactNode;
}) {
  const client = new QueryClient();
  const { db } = sharedConnection();
  const all = [
    ...answers,
    { key: stationsQuery.queryKey, fetch: (on: Database) => listStations(on) },
  ];
  const outcomes = await Promise.allSettled(
    all.map(async ({ key, fetch }) => client.setQueryData([...key], asSent(await fetch(db)))),
  );
  const failures = outcomes.flatMap((each) => (each.status === 'rejected' ? [each.reason] : []));
  for (const failure of failures) if (!isConnectionLost(failure)) throw failure;
  // A page without its answers would say that there is nothing.
  const isAway = failures.length > 0 && !isFrame;
  return <ServerState state={dehydrate(client)}>{isAway ? <StoreAway /> : children}</ServerState>;
}
