'use client';
/** The sidebar: where everything is, who is at work, and how the room is lit. */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { usePathname } from 'next/navigation';
import { Dispatch, SetStateAction, useState, useSyncExternalStore } from 'react';
import { operatorsQuery } from '../data/queries';
import { useKey } from '../parts/keys';
import { useSound } from './chime';
import { OperatorDialog } from './operator-dialog';
import { say } from '@/messages';

export const PLACES = [
  { href: '/arrivals', name: say.frame.arrivals },
  { href: '/bench', name: say.frame.bench },
  { href: '/holdings', name: say.frame.holdings },
  { href: '/assembly', name: say.frame.assembly },
  { href: '/write-back', name: say.frame.writeBack },
  { href: '/ledger', name: say.frame.ledger },
] as const;

function Mark() {
  return (
    <svg
      width="26"
      height="30"
      viewBox="0 0 26 30"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.6"
      strokeLinecap="round"
      aria-hidden
    >
      <path d="M13 2V28M5 8Q13 12 21 8M2 14Q13 18 24 14M5 20Q13 24 21 20" />
    </svg>
  );
}

/**
 * Light or dark; the document carries it from before the first paint (see the layout), this browser
 * keeps it.
 */
function useScheme(): [string, () => void] {
  const scheme = useSyncExternalStore(
    (changed) => {
      const observer = new MutationObserver(changed);
      observer.observe(document.documentElement, {
        attributes: true,
        attributeFilter: ['data-scheme'],
      });
      return () => observer.disconnect();
    },
    () => document.documentElement.dataset.scheme ?? 'light',
    () => 'light',
  );
  const turn = () => {
    const next = scheme === 'dark' ? 'light' : 'dark';
    localStorage.setItem('spindle-scheme', next);
    document.documentElement.dataset.scheme = next;
  };
  return [scheme, turn];
}

export function Sidebar() {
  const path = usePathname();
  const { data } = useQuery(operatorsQuery);
  const [asking, setAsking] = useState(false);
  const [scheme, turnScheme] = useScheme();
  const [sound, turnSound] = useSound();
  useKey('shift+d', turnScheme);
  useKey('shift+s', turnSound);
  const here = (href: string) =>
    path.startsWith(href) ||
    (href === '/arrivals' && /^\/(lots|sets|lenders|machines|hand-backs)(\/|$)/.test(path)) ||
    (href === '/holdings' && /^\/(media|parcels)(\/|$)/.test(path)) ||
    (href === '/ledger' && path.startsWith('/fixity'));
  const current = data?.current ?? null;
  return (
    <nav
      aria-label={say.frame.places}
      className="flex w-[60px] shrink-0 flex-col items-center bg-sidebar pt-4 text-sidebar-ink-2"
    >
      <Link href="/bench" aria-label={say.frame.frailSpindle} className="mb-3 text-sidebar-ink">
        <Mark />
      </Link>
      {/* In a low window the places roll; who is at work is always seen. */}
      <Places here={here} />
      <SidebarFoot
        turnScheme={turnScheme}
        scheme={scheme}
        turnSound={turnSound}
        sound={sound}
        setAsking={setAsking}
        data={data}
        current={current}
      />
      <OperatorDialog
        open={asking || (data !== undefined && current === null)}
        onOpenChange={setAsking}
        names={data?.names ?? []}
        current={current}
        recipient={data?.recipient ?? ''}
      />
    </nav>
  );
}

interface SidebarFootProps {
  turnScheme: () => void;
  scheme: string;
  turnSound: () => void;
  sound: boolean;
  setAsking: Dispatch<SetStateAction<boolean>>;
  data: { current: string | null; recipient: string; names: string[] } | undefined;
  current: string | null;
}

function Places({ here }: { here: (href: string) => boolean }) {
  return (
    <div className="min-h-0 w-full flex-1 overflow-y-auto [scrollbar-width:none]">
      {PLACES.map(({ href, name }) => (
        <PlaceLink key={href} href={href} here={here} name={name} />
      ))}
    </div>
  );
}

function PlaceLink({
  href,
  here,
  name,
}: {
  href: string;
  here: (href: string) => boolean;
  name: string;
}) {
  return (
    <Link
      href={href}
      aria-current={here(href) ? 'page' : undefined}
      className={
        'flex w-full items-center justify-center py-3.5 text-[15px] hover:text-sidebar-ink ' +
        'aria-[current=page]:bg-oxide aria-[current=page]:font-[650] ' +
        'aria-[current=page]:text-oxide-ink'
      }
    >
      <span className="rotate-180 [writing-mode:vertical-rl]">{name}</span>
    </Link>
  );
}

function SidebarFoot({
  turnScheme,
  scheme,
  turnSound,
  sound,
  setAsking,
  data,
  current,
}: SidebarFootProps) {
  return (
    <div className="flex shrink-0 flex-col items-center gap-3 pb-3 pt-2 text-[12px]">
      <button
        type="button"
        onClick={turnScheme}
        aria-keyshortcuts="Shift+D"
        className="hover:text-sidebar-ink"
      >
        {scheme === 'dark' ? say.frame.light : say.frame.dark}
        <br />
        {say.frame.d}
      </button>
      <SoundSwitch turnSound={turnSound} sound={sound} />
      <WhoIsAtWork setAsking={setAsking} data={data} current={current} />
      <span>{say.frame.ctrlK}</span>
    </div>
  );
}

function WhoIsAtWork({
  setAsking,
  data,
  current,
}: {
  setAsking: SidebarFootProps['setAsking'];
  data: SidebarFootProps['data'];
  current: string | null;
}) {
  return (
    <button
      type="button"
      onClick={() => setAsking(true)}
      className={
        'max-h-32 overflow-hidden [writing-mode:vertical-rl] rotate-180 ' +
        `hover:text-sidebar-ink ${data && !current ? 'waits text-[#e0a33c]' : ''}`
      }
    >
      {current === null ? say.frame.whoIsAtWork : atWork(current, data?.recipient ?? '')}
    </button>
  );
}

/** And for whom, where that is somebody else. */
const atWork = (current: string, recipient: string): string =>
  recipient === '' ? current : say.rights.atWorkFor({ current, recipient });

function SoundSwitch({ turnSound, sound }: { turnSound: () => void; sound: boolean }) {
  return (
    <button
      type="button"
      onClick={turnSound}
      aria-pressed={sound}
      aria-keyshortcuts="Shift+S"
      className="hover:text-sidebar-ink"
      suppressHydrationWarning
    >
      {sound ? say.frame.sound : say.frame.silent}
      <br />
      {say.frame.s}
    </button>
  );
}
