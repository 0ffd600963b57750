'use client';
/** Arrivals: media registered and waiting, and the next one to a station in one gesture. */
import { useMutation, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { post } from '../data/api';
import { arrivalsQuery, stationsQuery, type Arrivals } from '../data/queries';
import { Button } from '../parts/button';
import { useKey } from '../parts/keys';
import { Nothing, PageHead, Trouble } from '../parts/page';
import { RegisterDialog } from './register-dialog';
import { ShelfDialog } from './shelf-dialog';

type Medium = Arrivals['media'][number];

const next = ({ station, sittingState, isBlank }: Medium) => {
  if (station) return sittingState && sittingState !== 'done' ? `station ${station}, ${sittingState}` : `in station ${station}`;
  if (isBlank) return 'blank, may be written';
  return sittingState === 'done' ? 'read, no layout fits' : sittingState ?? 'ready';
};

export function ArrivalsView() {
  const { data } = useQuery(arrivalsQuery);
  const { data: stations = [] } = useQuery(stationsQuery);
  const router = useRouter();
  const [at, setAt] = useState(0);
  const [registering, setRegistering] = useState(false);
  const [choosing, setChoosing] = useState<Medium | null>(null);
  const media = data?.media ?? [];
  const chosen = media[Math.min(at, media.length - 1)];
  const free = stations.find((station) => !station.medium);
  const place = useMutation({
    mutationFn: ({ station, code, shelfLabel }: { station: number; code: string; shelfLabel?: string }) => post(`/api/stations/${station}`, { action: 'place', code, shelfLabel }),
    onSuccess: (_, { station }) => router.push(`/bench?station=${station}`),
    onError: (error, { code }) => {
      // A simulated shelf may not hold a disk of this name: a hand must choose one.
      const medium = media.find((each) => each.code === code);
      if (medium && /shelf/.test(error.message)) setChoosing(medium);
    },
  });
  const toStation = () => {
    if (!chosen) return;
    if (chosen.station) router.push(`/bench?station=${chosen.station}`);
    else if (free) place.mutate({ station: free.id, code: chosen.code });
  };
  useKey('ArrowDown', () => setAt((was) => Math.min(was + 1, media.length - 1)));
  useKey('ArrowUp', () => setAt((was) => Math.max(was - 1, 0)));
  const waiting = media.filter(({ isBlank }) => !isBlank).length;
  return (
    <>
      <PageHead over={`${media.length - waiting} blanks in stock`} title={waiting === 0 ? 'Nothing waits to be read' : `${waiting} ${waiting === 1 ? 'medium waits' : 'media wait'} to be read`}>
        <Button hotkey="r" onClick={() => setRegistering(true)}>Register a medium</Button>
        <Button hotkey="Enter" tone="primary" disabled={!chosen || (!chosen.station && !free)} onClick={toStation}>{chosen?.station ? 'To its station' : free ? `Put in station ${free.id}` : 'Every station is taken'}</Button>
      </PageHead>
      <Trouble>{choosing ? null : place.error?.message}</Trouble>
      {media.length === 0 ? <Nothing>Register a medium with R, then put it in a station. Files that exist already are dropped on Holdings.</Nothing> : (
        <table className="w-full border-collapse text-[14px]">
          <thead><tr className="border-b border-line text-[13px] [&>th]:pb-1.5"><th>Code</th><th>What it is</th><th>What the label says</th><th>Lender</th><th>Condition</th><th>Next</th></tr></thead>
          <tbody>
            {media.map((medium, i) => (
              <tr key={medium.id} aria-selected={medium === chosen} onClick={() => setAt(i)} className="h-9 border-b border-line aria-selected:bg-oxide-wash">
                <td className="pr-4"><Link href={`/media/${medium.code}`} className="font-mono font-[650] tracking-wide hover:underline">{medium.code}</Link></td>
                <td className="pr-4">{medium.title}</td>
                <td className="pr-4 text-ink-2">{medium.labelText || 'no label'}</td>
                <td className="pr-4 text-ink-2">{[medium.lender, medium.lot].filter(Boolean).join(' · ') || 'not known'}</td>
                <td className="pr-4">{medium.condition ? <span className="rounded-full border border-line bg-sheet px-2 text-[12px] leading-5">{medium.condition}</span> : <span className="text-ink-2">not described</span>}</td>
                <td className={medium.station ? 'font-[650] text-oxide' : ''}>{next(medium)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <RegisterDialog open={registering} onOpenChange={setRegistering} nextCode={data?.nextCode ?? ''} />
      <ShelfDialog medium={choosing} onClose={() => setChoosing(null)} onChoose={(shelfLabel) => {
        if (choosing && free) place.mutate({ station: free.id, code: choosing.code, shelfLabel });
        setChoosing(null);
      }} />
    </>
  );
}
