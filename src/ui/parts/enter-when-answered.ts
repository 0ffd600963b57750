'use client';
/** Enter in a search field, pressed before its list has come: it counts for what was typed. */
import { useEffect, useRef } from 'react';

/** Whether the list is that of the words typed, still to come, or not to be had. */
export type Answer = 'here' | 'awaited' | 'failed';

interface Enter {
  press: () => void;
  /** Something else was typed: what was pressed for the words before is given up. */
  forget: () => void;
}

/** `act` takes the chosen one of the list; what is pressed while the list is awaited waits with it. */
export function useEnterWhenAnswered(answer: Answer, act: () => void): Enter {
  const waiting = useRef(0);
  useEffect(() => {
    if (answer === 'awaited') return;
    const times = waiting.current;
    waiting.current = 0;
    if (answer === 'here') for (let i = 0; i < times; i++) act();
  });
  return {
    press: () => {
      if (answer === 'here') act();
      else if (answer === 'awaited') waiting.current++;
    },
    forget: () => {
      waiting.current = 0;
    },
  };
}
