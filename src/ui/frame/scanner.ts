'use client';
/**
 * Label scanners type like a keyboard. Our labels say `.SKP-0117`: the dot tells a scan from a
 * person's keys, so that none of its letters
 * does anything. A scan confirms what is in a drive, or finds the medium.
 */
import { useMutation } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import type { Scanned } from '@/server/features/stations/stations';
import { post } from '../data/api';
import { isForTheBench } from '../parts/keys';
import { docketPage } from '../data/addresses';

/** What a label's code begins with. */
export const SCAN_MARK = '.';
/** A scanner leaves no longer pause between two keys; after it what was typed was no scan. */
const PAUSE_MS = 400;
const MOST = 40;
/** Told to the page that shows media, so that it may choose one instead of leaving. */
const SCAN_EVENT = 'spindle-scan';

/** Lets a page that shows media take a scanned code; `take` says whether it did. */
export function useScanned(take: (code: string) => boolean): void {
  const latest = useRef(take);
  useEffect(() => {
    latest.current = take;
  });
  useEffect(() => {
    const listen = (event: Event) => {
      if (latest.current((event as CustomEvent<string>).detail)) event.preventDefault();
    };
    window.addEventListener(SCAN_EVENT, listen);
    return () => window.removeEventListener(SCAN_EVENT, listen);
  }, []);
}

/**
 * Listens on every page; gives what the last scan came to. `station` is the one that the person
 * looks at.
 */
export function useScanner(station: number | null): { text: string; wrong: boolean } | null {
  const router = useRouter();
  const [said, setSaid] = useState<{ text: string; wrong: boolean } | null>(null);
  const scan = useMutation({
    mutationFn: (code: string) => post<Scanned>('/api/scan', { code, station }),
    onSuccess: ({ code, station: at, said: text }) => {
      setSaid({ text, wrong: false });
      if (at !== null) router.push(`/bench?station=${at}`);
      // A page that lists media takes it; else its docket opens.
      else if (
        window.dispatchEvent(new CustomEvent(SCAN_EVENT, { detail: code, cancelable: true }))
      )
        router.push(docketPage(code));
    },
    onError: (error) => setSaid({ text: error.message, wrong: true }),
  });
  const latest = useRef(scan);
  useEffect(() => {
    latest.current = scan;
  });
  useEffect(() => {
    let typed: string | null = null;
    let typedAt = 0;
    const listen = (event: KeyboardEvent) => {
      if (!isForTheBench(event)) return;
      // When it was pressed, not when a busy page came to it.
      if (event.timeStamp - typedAt > PAUSE_MS) typed = null;
      if (typed === null && event.key !== SCAN_MARK) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      typedAt = event.timeStamp;
      if (event.key === 'Enter' || event.key === 'Tab') {
        const code = typed;
        typed = null;
        if (code) latest.current.mutate(code);
        return;
      }
      if (typed === null) typed = '';
      else if (event.key.length === 1 && typed.length < MOST) typed += event.key;
    };
    window.addEventListener('keydown', listen, true);
    // A page is shown before it hears keys.
    document.documentElement.dataset.hears = 'keys';
    return () => window.removeEventListener('keydown', listen, true);
  }, []);
  useEffect(() => {
    if (!said) return;
    const timer = setTimeout(() => setSaid(null), 8000);
    return () => clearTimeout(timer);
  }, [said]);
  return said;
}
