'use client';
/** What is shown of Arrivals: how it is narrowed and ordered, and the row that keys mean. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useMemo, useState } from 'react';
import { useScanned } from '../frame/scanner';
import { useKey } from '../parts/keys';
import { arrivalsQuery, FIRST_ARRIVALS, type Arrivals, type ArrivalsAsked } from '../data/queries';

export type ArrivingMedium = Arrivals['media'][number];

export function useArrivals() {
  const [asked, setAsked] = useState<ArrivalsAsked>(FIRST_ARRIVALS);
  // By code, not by place in the list: a mark reorders the list under the hand that sets the next
  // one.
  const [chosenCode, setChosenCode] = useState('');
  // The chosen one stays when nothing of it is to be completed any more, so that the next key still
  // means it.
  const question = useMemo(
    () => (asked.incomplete === '1' ? { ...asked, keep: chosenCode } : asked),
    [asked, chosenCode],
  );
  const { data } = useQuery({
    ...arrivalsQuery(useDeferredValue(question)),
    placeholderData: keepPreviousData,
  });
  const media = data?.media ?? [];
  const chosen = media.find(({ code }) => code === chosenCode) ?? media[0];
  const step = (by: 1 | -1) => {
    const to = chosen && media[media.indexOf(chosen) + by];
    if (to) setChosenCode(to.code);
  };
  useKey('ArrowDown', () => step(1));
  useKey('ArrowUp', () => step(-1));
  useScanned((code) => {
    if (!media.some((medium) => medium.code === code)) return false;
    setAsked(FIRST_ARRIVALS);
    setChosenCode(code);
    return true;
  });
  return {
    data,
    media,
    asked,
    chosen,
    choose: setChosenCode,
    /** Narrows or orders anew, from the top. */
    ask: (change: ArrivalsAsked) => {
      setAsked((was) => ({ ...was, more: 0, ...change }));
      setChosenCode('');
    },
    showMore: () => setAsked((was) => ({ ...was, more: (was.more ?? 0) + 1 })),
  };
}
