'use client';
/**
 * Keys of the stations, from any page: the station's number, then a letter. `3 C`: the head of
 * station 3 is clean.
 */
import { useMutation } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import { keysAt } from './station-actions';
import { post } from '../data/api';
import type { Station } from '../data/queries';
import { isForTheBench } from '../parts/keys';
import { say } from '@/messages';

/** Milliseconds that a number waits for its letter. */
const WAITS = 4000;

interface StationKeys {
  /** The station whose number was pressed, and that waits for a letter. */
  chosen: number | null;
  /** What the last key came to, in a sentence. */
  said: { text: string; wrong: boolean } | null;
}

export function useStationKeys(stations: readonly Station[]): StationKeys {
  const router = useRouter();
  const [chosen, setChosen] = useState<number | null>(null);
  const [said, setSaid] = useState<StationKeys['said']>(null);
  const act = useMutation({
    mutationFn: ({ path, body }: { path: string; body: object; name: string; id: number }) =>
      post(path, body),
    onSuccess: (_, { name, id }) =>
      setSaid({ text: say.stations.station3({ id, name }), wrong: false }),
    onError: (error) => setSaid({ text: error.message, wrong: true }),
  });
  const latest = useRef({ stations, chosen, act });
  useEffect(() => {
    latest.current = { stations, chosen, act };
  });
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const choose = (id: number | null) => {
      clearTimeout(timer);
      setChosen(id);
      if (id !== null) timer = setTimeout(() => setChosen(null), WAITS);
    };
    const listen = (event: KeyboardEvent) => {
      if (event.repeat || !isForTheBench(event)) return;
      const { stations: all, chosen: id } = latest.current;
      const number = /^[1-9]$/.test(event.key) ? Number(event.key) : null;
      if (number !== null && number !== id && all.some((station) => station.id === number)) {
        event.preventDefault();
        event.stopImmediatePropagation();
        choose(number);
        return;
      }
      const station = all.find((each) => each.id === id);
      if (!station || event.key === 'Shift') return;
      // From here on the key is the station's, whatever the page would do with it.
      event.preventDefault();
      event.stopImmediatePropagation();
      choose(null);
      if (event.key === 'Enter' || event.key === String(station.id))
        return router.push(`/bench?station=${station.id}`);
      const action = keysAt(station).find(({ key }) => key === event.key.toLowerCase());
      if (action) latest.current.act.mutate({ ...action, id: station.id });
    };
    window.addEventListener('keydown', listen, true);
    return () => {
      clearTimeout(timer);
      window.removeEventListener('keydown', listen, true);
    };
  }, [router]);
  useEffect(() => {
    if (!said) return;
    const timer = setTimeout(() => setSaid(null), 8000);
    return () => clearTimeout(timer);
  }, [said]);
  return { chosen, said };
}
