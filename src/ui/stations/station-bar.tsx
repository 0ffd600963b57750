'use client';
/**
 * The station bar: each station, what is in it, how far it is, and what it waits for. Always there.
 */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { usePathname, useSearchParams } from 'next/navigation';
import { keysAt } from './station-actions';
import { doing, driveName, waitsFor } from './station-state';
import { BlockSurfaceLine } from '../charts/blocks/block-surface-table';
import { SurfaceLine } from '../charts/surface-table';
import { stationsQuery, type Station } from '../data/queries';
import { Key } from '../parts/button';
import { useChime } from '../frame/chime';
import { useScanner } from '../frame/scanner';
import { useStationKeys } from './station-keys';
import { say } from '@/messages';

/** The keys of the station whose number was pressed. */
function KeysOf({ station }: { station: Station }) {
  const actions = [...keysAt(station), { key: 'Enter', name: say.stations.showIt }];
  return (
    <div data-testid="station-keys" className="flex flex-wrap items-center gap-x-5 gap-y-1">
      <b>{say.stations.station({ id: station.id })}</b>
      {actions.map(({ key, name }) => (
        <span key={key} className="flex items-center gap-2">
          <Key hotkey={key} />
          {name}
        </span>
      ))}
    </div>
  );
}

export function StationBar() {
  const { data } = useQuery(stationsQuery);
  const stations = data ?? [];
  const path = usePathname();
  const parameters = useSearchParams();
  const shown = path === '/bench' ? Number(parameters.get('station') ?? 1) : null;
  // The scanner first: a label's digits must not choose a station.
  const scanned = useScanner(shown);
  const { chosen, said } = useStationKeys(stations);
  useChime(
    data
      ? data.flatMap((station) => {
          const what = waitsFor(station);
          return what ? [`${station.id} ${what}`] : [];
        })
      : null,
  );
  const choosing = stations.find(({ id }) => id === chosen);
  const notice = said ?? scanned;
  return (
    <div className="shrink-0">
      <div
        aria-live="polite"
        className={
          choosing || notice
            ? 'border-t border-line px-4 py-2 text-[13px] ' +
              `${notice?.wrong && !choosing ? 'bg-oxide-wash font-[650]' : 'bg-sheet'}`
            : 'sr-only'
        }
        data-testid="station-bar-says"
      >
        {choosing ? <KeysOf station={choosing} /> : notice?.text}
      </div>
      <nav aria-label={say.stations.stations} className="flex h-[84px] bg-sidebar text-sidebar-ink">
        {stations.map((station) => {
          const hand = waitsFor(station) !== null;
          return (
            <StationLink
              key={station.id}
              station={station}
              hand={hand}
              shown={shown}
              chosen={chosen}
            />
          );
        })}
        {data?.length === 0 && (
          <p className="px-4 py-3 text-[13px] text-sidebar-ink-2">
            {say.stations.noStationIsKnown}
          </p>
        )}
      </nav>
    </div>
  );
}

interface StationLinkProps {
  station: Station;
  hand: boolean;
  shown: number | null;
  chosen: number | null;
}

function StationLink({ station, hand, shown, chosen }: StationLinkProps) {
  return (
    <Link
      href={station.writeback ? '/write-back' : `/bench?station=${station.id}`}
      data-testid={`station-bar-${station.id}`}
      data-waits={hand}
      title={driveName(station)}
      className={
        'relative min-w-0 max-w-[300px] flex-1 border-r border-white/10 px-3 py-2.5 ' +
        `${hand ? 'bg-ochre-deep' : ''} ` +
        `${station.id === shown || station.id === chosen ? 'border-t-[3px] border-t-oxide pt-[7px]' : ''}`
      }
    >
      <span className="grid grid-cols-[22px_1fr] gap-x-1">
        <span className="row-span-2 text-[22px] leading-6 text-sidebar-ink-2">{station.id}</span>
        <b className="truncate text-[13px]">
          {station.medium ? `${station.medium.code} · ${station.medium.title}` : say.stations.empty}
        </b>
        <span
          className={`truncate text-[12px] ${hand ? 'waits font-[650]' : 'text-sidebar-ink-2'}`}
        >
          {doing(station)}
        </span>
      </span>
      <LinkLine station={station} />
    </Link>
  );
}

function LinkLine({ station }: { station: StationLinkProps['station'] }) {
  return (
    <span className="mt-1.5 block">
      {station.sitting?.blocks ? (
        <BlockSurfaceLine extents={station.extents} blocks={station.sitting.blocks} />
      ) : station.sitting ? (
        <SurfaceLine tracks={station.tracks} cylinders={station.sitting.cylinders} />
      ) : (
        <SurfaceLine tracks={[]} cylinders={80} />
      )}
    </span>
  );
}
