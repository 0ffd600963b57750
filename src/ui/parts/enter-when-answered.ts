'use client';
/** Enter in a search field, pressed before its list has come: it counts for what was typed. */
import { useEffect, useRef } from 'react';

interface Enter {
  press: () => void;
  /** Something else was typed: what was pressed for the words before is given up. */
  forget: () => void;
}

/**
 * `act` takes the first of the list. While the list is still that of other words, `isAnswered` is
 * false, and what was pressed waits.
 */
export function useEnterWhenAnswered(isAnswered: boolean, act: () => void): Enter {
  const waiting = useRef(0);
  useEffect(() => {
    if (!isAnswered) return;
    const times = waiting.current;
    waiting.current = 0;
    for (let i = 0; i < times; i++) act();
  });
  return {
    press: () => {
      if (isAnswered) act();
      else waiting.current++;
    },
    forget: () => {
      waiting.current = 0;
    },
  };
}
