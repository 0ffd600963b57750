'use client';
/** A search of the holdings by words as they are typed. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue } from 'react';
import type { Answer } from '../parts/enter-when-answered';
import { holdingsQuery } from './queries';

/** What is found; for a moment it may be what answered to the words before, as `answer` tells. */
export function useTypedSearch(typed: string, enabled: (asked: string) => boolean = () => true) {
  const asked = useDeferredValue(typed.trim());
  const { data, isPlaceholderData, isError } = useQuery({
    ...holdingsQuery({ q: asked }),
    enabled: enabled(asked),
    placeholderData: keepPreviousData,
  });
  const isOld = isPlaceholderData || data === undefined || asked !== typed.trim();
  const answer: Answer = isError ? 'failed' : isOld ? 'awaited' : 'here';
  return { asked, data, answer };
}
