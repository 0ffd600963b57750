'use client';
/**
 * The page's one event stream: tracks go straight into what is shown, everything else asks for the
 * new state.
 */
import { QueryClient, QueryClientProvider, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState, type ReactNode } from 'react';
import type { SpindleEvent } from '@/server/platform/events';
import { sittingQuery, stationsQuery, type Sitting } from './queries';
import { withTrack } from '@/core/reading/analysis/track-marks';

/** What is asked for anew when something is told that is not shown straight away. */
const ASKED_ANEW: Record<Exclude<SpindleEvent['kind'], 'track' | 'blocks'>, readonly string[][]> = {
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
  ledger: [['ledger']],
};

function take(client: QueryClient, event: SpindleEvent): void {
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

function EventStream() {
  const client = useQueryClient();
  useEffect(() => {
    const source = new EventSource('/api/events');
    let opened = false;
    // What happened while the stream was away is not told again: ask for everything shown.
    const refresh = () => void client.invalidateQueries();
    source.onopen = () => {
      if (opened) refresh();
      // What happened between the page's first answers and now is not told either.
      else
        void client.invalidateQueries({
          predicate: ({ queryKey }) => !LASTING.has(String(queryKey[0])),
        });
      opened = true;
    };
    source.onmessage = ({ data }: MessageEvent<string>) => {
      if (data === '') refresh();
      else take(client, JSON.parse(data) as SpindleEvent);
    };
    return () => source.close();
  }, [client]);
  return null;
}

/** Holds what pages have asked for, and keeps it true. */
export function Live({ children }: { children: ReactNode }) {
  const [client] = useState(
    () =>
      new QueryClient({
        defaultOptions: { queries: { staleTime: 5_000, refetchOnWindowFocus: true, retry: 2 } },
      }),
  );
  return (
    <QueryClientProvider client={client}>
      <EventStream />
      {children}
    </QueryClientProvider>
  );
}
