'use client';
/** The command line: one key, then any medium, station or place by a few letters of it. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Command } from 'cmdk';
import { useRouter } from 'next/navigation';
import { useDeferredValue, useState } from 'react';
import { arrivalsQuery, holdingsQuery, stationsQuery, type Station } from '../data/queries';
import { keysAt } from '../stations/station-actions';
import { useStationAct } from '../stations/station-buttons';
import { useKey } from '../parts/keys';
import { ErrorAlert } from '../parts/page';
import { PLACES } from './sidebar';
import { say } from '@/messages';
import { docketPage } from '../data/addresses';

const ROW = 'flex justify-between px-4 py-2 text-[14px] data-[selected=true]:bg-oxide-wash';

export function CommandLine() {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  const act = useStationAct();
  const show = (isOpen: boolean) => {
    act.reset();
    setOpen(isOpen);
  };
  useKey('mod+k', () => show(!open));
  return (
    <Command.Dialog
      open={open}
      onOpenChange={show}
      label={say.frame.jumpTo}
      overlayClassName="fixed inset-0 z-40 bg-black/40"
      contentClassName={
        'fixed left-1/2 top-[14vh] z-50 w-[560px] -translate-x-1/2 border border-line ' +
        'bg-ground shadow-xl'
      }
    >
      <Command.Input
        value={typed}
        onValueChange={setTyped}
        placeholder={say.frame.aCodeATitle}
        className="w-full border-b border-line bg-transparent px-4 py-3 text-[16px] outline-none"
      />
      <ErrorAlert>{act.error?.message}</ErrorAlert>
      <Command.List className="max-h-[50vh] overflow-auto py-1">
        <Command.Empty className="px-4 py-3 text-ink-2">
          {say.frame.nothingByThatName}
        </Command.Empty>
        {open && <Goals typed={typed} act={act} onGo={() => show(false)} />}
      </Command.List>
    </Command.Dialog>
  );
}

interface GoalsProps {
  typed: string;
  act: ReturnType<typeof useStationAct>;
  onGo: () => void;
}

/**
 * Asks only when it is open: a query that was asked for here first would be empty in a page's first
 * view.
 */
function Goals({ typed, act, onGo }: GoalsProps) {
  const asked = useDeferredValue(typed);
  const router = useRouter();
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
        { href: '/layouts', name: say.frame.layouts },
        { href: '/write-back/memory-cards', name: say.frame.cardsForStandIn },
        { href: '/write-back/lines', name: say.frame.bySerialLine },
        { href: '/signatures', name: say.frame.signatures },
        { href: '/holdings/alike', name: say.frame.whatIsAlike },
        { href: '/arrivals/to-complete', name: say.frame.toComplete },
        { href: '/hand-backs', name: say.receipts.handBacks },
      ].map(({ href, name }) => (
        <Command.Item key={href} value={name} onSelect={go(href)} className={ROW}>
          <span>{name}</span>
        </Command.Item>
      ))}
      {stations.map(({ id, medium }) => (
        <StationGoal key={id} id={id} medium={medium} go={go} />
      ))}
      {stations.flatMap((station) =>
        keysAt(station).map(({ key, name, path, body }) => (
          <Command.Item
            key={`${station.id} ${key}`}
            value={`station ${station.id} ${name}`}
            // What it is refused for is said here, where it was asked.
            onSelect={() =>
              act.mutate({ path, body }, { onSuccess: go(`/bench?station=${station.id}`) })
            }
            className={ROW}
          >
            <span>{say.frame.station2({ id: station.id, name })}</span>
            <span className="font-mono text-ink-2">
              {station.id} {key.toUpperCase()}
            </span>
          </Command.Item>
        )),
      )}
      {media.map(({ code, title }) => (
        <MediumGoal key={code} code={code} title={title} go={go} />
      ))}
    </>
  );
}

function StationGoal({
  id,
  medium,
  go,
}: {
  id: number;
  medium: Station['medium'];
  go: (href: string) => () => void;
}) {
  return (
    <Command.Item
      value={`station ${id} ${medium?.code ?? ''}`}
      onSelect={go(`/bench?station=${id}`)}
      className={ROW}
    >
      <span>{say.frame.station({ id })}</span>
      <span className="text-ink-2">{medium?.code ?? 'empty'}</span>
    </Command.Item>
  );
}

function MediumGoal({
  code,
  title,
  go,
}: {
  code: string;
  title: string;
  go: (href: string) => () => void;
}) {
  return (
    <Command.Item value={`${code} ${title}`} onSelect={go(docketPage(code))} className={ROW}>
      <span>{title}</span>
      <span className="font-mono text-ink-2">{code}</span>
    </Command.Item>
  );
}
