'use client';
/** Keys of the page: one listener each, silent while somebody types or a dialog is open. */
import { useEffect, useRef } from 'react';
import { say } from '@/messages';

const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

/** Whether a key is meant for the bench: no shortcut of the browser, nothing that is typed. */
export const isForTheBench = (event: KeyboardEvent): boolean =>
  !event.ctrlKey &&
  !event.metaKey &&
  !event.altKey &&
  !isTyping(event.target) &&
  !document.querySelector('[role="dialog"]');

/** Calls `act` on `key` (`p`, `Enter`, `shift+e`, `mod+k`); nothing where either is missing. */
export function useKey(key: string | undefined, act: (() => void) | undefined): void {
  const latest = useRef(act);
  useEffect(() => {
    latest.current = act;
  });
  useEffect(() => {
    if (!key) return;
    const [name, ...modifiers] = key.split('+').reverse() as [string, ...string[]];
    const listen = (event: KeyboardEvent) => {
      const mod = modifiers.includes('mod');
      if (!latest.current || event.key.toLowerCase() !== name.toLowerCase() || event.repeat) return;
      if (
        (event.ctrlKey || event.metaKey) !== mod ||
        event.altKey ||
        (event.shiftKey !== modifiers.includes('shift') && name.length === 1)
      )
        return;
      if (!mod && (isTyping(event.target) || document.querySelector('[role="dialog"]'))) return;
      // Enter on a focused control is that control's own.
      if (
        name === 'Enter' &&
        event.target instanceof HTMLElement &&
        event.target.closest(say.parts.aButton)
      )
        return;
      event.preventDefault();
      latest.current();
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, [key]);
}
