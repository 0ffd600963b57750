'use client';
/** The rail: each station, what is in it, how far it is, and what it waits for. Always there. */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { usePathname, useSearchParams } from 'next/navigation';
import { FORM_NAMES } from '@/core/layout/layout';
import { StrataLine } from '../charts/strata';
import { stationsQuery, type Station } from '../data/queries';

/** What a station does or waits for, in a few words. */
function doing({ medium, sitting, returning, form }: Station): string {
  if (returning) return returning.now;
  if (sitting?.state === 'paused') return 'paused';
  if (sitting) return sitting.now;
  return medium ? 'in the drive, ready' : `${FORM_NAMES[form]} · ready for the next disk`;
}

const waits = ({ sitting, returning }: Station) => sitting?.state === 'held' || sitting?.state === 'asks' || returning?.state === 'held' || returning?.state === 'asks';

export function Rail() {
  const { data: stations = [] } = useQuery(stationsQuery);
  const path = usePathname();
  const shown = Number(useSearchParams().get('station') ?? 1);
  return (
    <nav aria-label="Stations" className="flex h-[84px] shrink-0 bg-spine text-spine-ink">
      {stations.map((station) => {
        const hand = waits(station);
        const current = path === '/bench' && station.id === shown;
        return (
          <Link key={station.id} href={station.returning ? '/returns' : `/bench?station=${station.id}`} data-testid={`rail-${station.id}`}
            className={`relative min-w-0 max-w-[300px] flex-1 border-r border-white/10 px-3 py-2.5 ${hand ? 'bg-ochre-deep' : ''} ${current ? 'border-t-[3px] border-t-oxide pt-[7px]' : ''}`}>
            <span className="grid grid-cols-[22px_1fr] gap-x-1">
              <span className="row-span-2 text-[22px] leading-6 text-spine-ink-2">{station.id}</span>
              <b className="truncate text-[13px]">{station.medium ? `${station.medium.code} · ${station.medium.title}` : 'empty'}</b>
              <span className={`truncate text-[12px] ${hand ? 'waits font-[650]' : 'text-spine-ink-2'}`}>{doing(station)}</span>
            </span>
            <span className="mt-1.5 block">{station.sitting ? <StrataLine tracks={station.tracks} cylinders={station.sitting.cylinders} /> : <StrataLine tracks={[]} cylinders={80} />}</span>
          </Link>
        );
      })}
      {stations.length === 0 && <p className="px-4 py-3 text-[13px] text-spine-ink-2">No station is known yet: the bench has not answered.</p>}
    </nav>
  );
}
