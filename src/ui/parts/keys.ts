'use client';
/** Keys of the page: one listener each, silent while somebody types or a dialog is open. */
import { useEffect, useRef } from 'react';

/** Nothing is typed into a box that is ticked: of the keys it takes one. */
const isBox = (target: HTMLElement): boolean =>
  target instanceof HTMLInputElement && target.type === 'checkbox';

/** Whether a key is that of the control that has the focus. */
const isTyping = ({ target, key }: KeyboardEvent): boolean => {
  if (!(target instanceof HTMLElement)) return false;
  if (isBox(target)) return key === ' ';
  return target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName);
};

/** Whether a key is meant for the bench: no shortcut of the browser, nothing that is typed. */
export const isForTheBench = (event: KeyboardEvent): boolean =>
  !event.ctrlKey &&
  !event.metaKey &&
  !event.altKey &&
  !isTyping(event) &&
  !document.querySelector('[role="dialog"]');

function isPressed(event: KeyboardEvent, name: string, modifiers: readonly string[]): boolean {
  if (event.key.toLowerCase() !== name.toLowerCase() || event.repeat || event.altKey) return false;
  if ((event.ctrlKey || event.metaKey) !== modifiers.includes('mod')) return false;
  return event.shiftKey === modifiers.includes('shift') || name.length > 1;
}

/** Enter on a focused control is that control's own. */
const isOfControl = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && target.closest('a, button') !== null;

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
      if (!latest.current || !isPressed(event, name, modifiers)) return;
      const isTakenElsewhere = isTyping(event) || document.querySelector('[role="dialog"]');
      if (!modifiers.includes('mod') && isTakenElsewhere) return;
      if (name === 'Enter' && isOfControl(event.target)) return;
      event.preventDefault();
      latest.current();
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, [key]);
}
