'use client';
/** The entries of a copy's volumes as far as they were asked for: the first come with the page. */
import { useState } from 'react';
import { get } from '../data/api';
import type { DocketData } from '../data/queries';
import type { Entry } from './entry-rows';

type Volume = DocketData['contents'][number];

interface Further {
  entries: Entry[];
  next: number | null;
}

const withPage = (was: ReadonlyMap<number, Further>, volume: number, page: Further) =>
  new Map(was).set(volume, {
    ...page,
    entries: [...(was.get(volume)?.entries ?? []), ...page.entries],
  });

export function useEntries(copyId: number) {
  const [further, setFurther] = useState<ReadonlyMap<number, Further>>(new Map());
  const [asking, setAsking] = useState<number | null>(null);
  const nextOf = (volume: Volume) => {
    const more = further.get(volume.id);
    return more ? more.next : volume.next;
  };
  return {
    entriesOf: (volume: Volume): Entry[] => [
      ...volume.entries,
      ...(further.get(volume.id)?.entries ?? []),
    ],
    hasMore: (volume: Volume) => nextOf(volume) !== null,
    isAsking: (volume: Volume) => asking === volume.id,
    /** Asks for the next ones; asked again before they came, it does nothing. */
    async more(volume: Volume): Promise<void> {
      const after = nextOf(volume);
      if (after === null || asking !== null) return;
      setAsking(volume.id);
      try {
        const question = `volume=${volume.id}&after=${after}`;
        const page = await get<Further>(`/api/copies/${copyId}/files?${question}`);
        setFurther((was) => withPage(was, volume.id, page));
      } finally {
        setAsking(null);
      }
    },
  };
}
