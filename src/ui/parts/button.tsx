'use client';
/** A button that shows its key and answers to it. */
import type { ButtonHTMLAttributes, ReactNode } from 'react';
import { say } from '@/messages';
import { useKey } from './keys';

interface ButtonProps extends ButtonHTMLAttributes<HTMLButtonElement> {
  /** The key as `useKey` takes it: `p`, `Enter`, `shift+e`. */
  hotkey?: string;
  tone?: 'plain' | 'primary';
  children: ReactNode;
}

const TONES = {
  plain: 'border-line bg-sheet text-ink hover:border-ink-3',
  primary: 'border-oxide bg-oxide text-oxide-ink hover:brightness-110',
};

/** `shift+e` as a person reads it. */
const shown = (hotkey: string) =>
  hotkey
    .replace('shift+', '⇧')
    .replace(' ', say.parts.spaceBar)
    .replace(/^(⇧?)([a-z])$/, (_, shift: string, letter: string) => shift + letter.toUpperCase());

export function Key({ hotkey }: { hotkey: string }) {
  return (
    <kbd
      aria-hidden
      className="rounded-sm border border-current px-1.5 font-mono text-[11px] leading-[18px] opacity-90"
    >
      {shown(hotkey)}
    </kbd>
  );
}

export function Button({
  hotkey,
  tone = 'plain',
  className = '',
  children,
  disabled,
  onClick,
  ...rest
}: ButtonProps) {
  useKey(hotkey, disabled ? undefined : () => onClick?.(undefined as never));
  return (
    <button
      type="button"
      disabled={disabled}
      onClick={onClick}
      aria-keyshortcuts={hotkey?.replace('shift+', 'Shift+').replace(' ', 'Space')}
      className={
        'inline-flex min-h-9 items-center gap-2.5 rounded-sm border px-3 py-1.5 text-left ' +
        `text-[13px] font-[650] disabled:opacity-45 ${TONES[tone]} ${className}`
      }
      {...rest}
    >
      <span>{children}</span>
      {hotkey && <Key hotkey={hotkey} />}
    </button>
  );
}
