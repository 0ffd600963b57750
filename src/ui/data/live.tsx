'use client';
/**
 * The page's one event stream: tracks go straight into what is shown, everything else asks for the
 * new state.
 */
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { createContext, useContext, useEffect, useState, type ReactNode } from 'react';
import type { SpindleEvent } from '@/server/platform/events';
import { EventLink, type Outage } from './event-link';
import { sittingQuery, stationsQuery, type Sitting } from './queries';
import { withTrack } from '@/core/reading/analysis/track-marks';

/** What is asked for anew when something is told that is not shown straight away. */
type AskedAnew = Exclude<SpindleEvent['kind'], 'track' | 'blocks' | 'store-away'>;
const ASKED_ANEW: Record<AskedAnew, readonly string[][]> = {
  uploads: [['uploads']],
  sitting: [['stations'], ['media']],
  writeback: [['writebacks'], ['stations'], ['media']],
  'writeback-track': [['writebacks']],
  stations: [['stations'], ['shelf'], ['writebacks', 'check']],
  layouts: [['layouts']],
  media: [['media']],
  assemblies: [['assemblies']],
  transfers: [['transfers']],
  fixity: [['fixity'], ['media']],
  extracts: [['extracts']],
  parcels: [['parcels']],
  ledger: [['ledger']],
};

function take(client: QueryClient, event: Exclude<SpindleEvent, { kind: 'store-away' }>): void {
  if (event.kind === 'track') return takeTrack(client, event);
  if (event.kind === 'blocks') return takeBlocks(client, event);
  if (event.kind === 'sitting')
    void client.invalidateQueries({ queryKey: ['sitting', event.sittingId] });
  for (const queryKey of ASKED_ANEW[event.kind]) void client.invalidateQueries({ queryKey });
}

/**
 * Extents come with the whole sitting: asked for once a second at most, however often it is told
 * that there are new ones.
 */
const EXTENTS_MS = 1000;
const due = new Map<number, ReturnType<typeof setTimeout>>();

function takeTrack(client: QueryClient, event: Extract<SpindleEvent, { kind: 'track' }>): void {
  client.setQueryData<Sitting>(
    sittingQuery(event.sittingId).queryKey,
    (sitting) =>
      sitting && {
        ...withTrack(sitting, event),
        now: event.now,
        layout: event.layout,
        secondsLeft: event.secondsLeft,
        ...(event.duplicateMatch !== undefined && { duplicateMatch: event.duplicateMatch }),
      },
  );
  client.setQueryData(stationsQuery.queryKey, (stations) =>
    stations?.map((station) =>
      station.sitting?.id !== event.sittingId
        ? station
        : {
            ...station,
            sitting: { ...station.sitting, now: event.now },
            tracks: [
              ...station.tracks.filter(
                ({ cylinder, head }) => cylinder !== event.cylinder || head !== event.head,
              ),
              {
                cylinder: event.cylinder,
                head: event.head,
                unsound: event.sectors.filter(
                  ({ grade }) => grade === 'doubtful' || grade === 'lost',
                ).length,
              },
            ],
          },
    ),
  );
  // What is being asked for may have left before this track: then it is asked for once more.
  const asked = [sittingQuery(event.sittingId).queryKey, stationsQuery.queryKey];
  if (asked.some((queryKey) => client.isFetching({ queryKey }) > 0))
    refetchSoon(client, event.sittingId);
}

function takeBlocks(client: QueryClient, event: Extract<SpindleEvent, { kind: 'blocks' }>): void {
  client.setQueryData<Sitting>(
    sittingQuery(event.sittingId).queryKey,
    (sitting) =>
      sitting && {
        ...sitting,
        now: event.now,
        tally: event.tally,
        secondsLeft: event.secondsLeft,
        blocks: sitting.blocks && { ...sitting.blocks, tally: event.tally, at: event.at },
      },
  );
  client.setQueryData(stationsQuery.queryKey, (stations) =>
    stations?.map((station) =>
      station.sitting?.id === event.sittingId
        ? { ...station, sitting: { ...station.sitting, now: event.now } }
        : station,
    ),
  );
  refetchSoon(client, event.sittingId);
}

function refetchSoon(client: QueryClient, sittingId: number): void {
  if (due.has(sittingId)) return;
  due.set(
    sittingId,
    setTimeout(() => {
      due.delete(sittingId);
      void client.invalidateQueries({ queryKey: ['sitting', sittingId] });
      void client.invalidateQueries({ queryKey: ['stations'] });
    }, EXTENTS_MS),
  );
}

/** What never changes once it is known. */
const LASTING = new Set(['image', 'file']);

const OutageContext = createContext<Outage | null>(null);

/** What does not answer at the moment; null where all is well. */
export const useOutage = (): Outage | null => useContext(OutageContext);

function useEvents(client: QueryClient): Outage | null {
  const [outage, setOutage] = useState<Outage | null>(null);
  useEffect(() => {
    const link = new EventLink({
      onEvent: (event) => take(client, event),
      // What happened while the stream was away is not told again: all that is shown is asked for.
      // Of a page that begins, what happened since its first answers.
      onFresh: (isFirst) =>
        void client.invalidateQueries(
          isFirst ? { predicate: ({ queryKey }) => !LASTING.has(String(queryKey[0])) } : {},
        ),
      onOutage: setOutage,
    });
    return () => link.close();
  }, [client]);
  return outage;
}

/** Holds what pages have asked for, and keeps it true. */
export function Live({ children }: { children: ReactNode }) {
  const [client] = useState(
    () =>
      new QueryClient({
        defaultOptions: { queries: { staleTime: 5_000, refetchOnWindowFocus: true, retry: 2 } },
      }),
  );
  const outage = useEvents(client);
  return (
    <QueryClientProvider client={client}>
      <OutageContext value={outage}>{children}</OutageContext>
    </QueryClientProvider>
  );
}
