'use client';
/** The command line: one key, then any medium, station or place by a few letters of it. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Command } from 'cmdk';
import { useRouter } from 'next/navigation';
import { useDeferredValue, useState } from 'react';
import { arrivalsQuery, holdingsQuery, stationsQuery } from '../data/queries';
import { keysAt } from '../stations/station-actions';
import { useStationAct } from '../stations/station-buttons';
import { useKey } from '../parts/keys';
import { PLACES } from './sidebar';

const ROW = 'flex justify-between px-4 py-2 text-[14px] data-[selected=true]:bg-oxide-wash';

export function CommandLine() {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  useKey('mod+k', () => setOpen((was) => !was));
  return (
    <Command.Dialog
      open={open}
      onOpenChange={setOpen}
      label="Jump to"
      overlayClassName="fixed inset-0 z-40 bg-black/40"
      contentClassName={
        'fixed left-1/2 top-[14vh] z-50 w-[560px] -translate-x-1/2 border border-line ' +
        'bg-ground shadow-xl'
      }
    >
      <Command.Input
        value={typed}
        onValueChange={setTyped}
        placeholder="A code, a title, a station …"
        className="w-full border-b border-line bg-transparent px-4 py-3 text-[16px] outline-none"
      />
      <Command.List className="max-h-[50vh] overflow-auto py-1">
        <Command.Empty className="px-4 py-3 text-ink-2">Nothing by that name.</Command.Empty>
        {open && <Goals typed={typed} onGo={() => setOpen(false)} />}
      </Command.List>
    </Command.Dialog>
  );
}

/**
 * Asks only when it is open: a query that was asked for here first would be empty in a page's first
 * view.
 */
function Goals({ typed, onGo }: { typed: string; onGo: () => void }) {
  const asked = useDeferredValue(typed);
  const router = useRouter();
  const act = useStationAct();
  const { data: stations = [] } = useQuery(stationsQuery);
  const { data: arrivals } = useQuery({
    ...arrivalsQuery({ q: asked }),
    placeholderData: keepPreviousData,
  });
  const { data: holdings } = useQuery({
    ...holdingsQuery({ q: asked }),
    placeholderData: keepPreviousData,
  });
  const go = (href: string) => () => {
    onGo();
    router.push(href);
  };
  const media = [...(arrivals?.media ?? []), ...(holdings?.copies ?? [])];
  return (
    <>
      {[
        ...PLACES,
        { href: '/layouts', name: 'Layouts' },
        { href: '/write-back/memory-cards', name: 'Cards for stand-in drives' },
        { href: '/write-back/lines', name: 'By serial line' },
        { href: '/signatures', name: 'Signatures' },
        { href: '/holdings/alike', name: 'What is alike' },
        { href: '/arrivals/to-complete', name: 'To complete' },
      ].map(({ href, name }) => (
        <Command.Item key={href} value={name} onSelect={go(href)} className={ROW}>
          <span>{name}</span>
        </Command.Item>
      ))}
      {stations.map(({ id, medium }) => (
        <Command.Item
          key={id}
          value={`station ${id} ${medium?.code ?? ''}`}
          onSelect={go(`/bench?station=${id}`)}
          className={ROW}
        >
          <span>Station {id}</span>
          <span className="text-ink-2">{medium?.code ?? 'empty'}</span>
        </Command.Item>
      ))}
      {stations.flatMap((station) =>
        keysAt(station).map(({ key, name, path, body }) => (
          <Command.Item
            key={`${station.id} ${key}`}
            value={`station ${station.id} ${name}`}
            onSelect={() => {
              onGo();
              act.mutate({ path, body });
              router.push(`/bench?station=${station.id}`);
            }}
            className={ROW}
          >
            <span>
              Station {station.id}: {name}
            </span>
            <span className="font-mono text-ink-2">
              {station.id} {key.toUpperCase()}
            </span>
          </Command.Item>
        )),
      )}
      {media.map(({ code, title }) => (
        <Command.Item
          key={code}
          value={`${code} ${title}`}
          onSelect={go(`/media/${code}`)}
          className={ROW}
        >
          <span>{title}</span>
          <span className="font-mono text-ink-2">{code}</span>
        </Command.Item>
      ))}
    </>
  );
}
