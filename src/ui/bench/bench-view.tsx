'use client';
/** The bench: one large panel for the sitting at hand. */
import { useMutation, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter, useSearchParams } from 'next/navigation';
import { post } from '../data/api';
import { sittingQuery, stationsQuery, type Station } from '../data/queries';
import { Button } from '../parts/button';
import { useKey } from '../parts/keys';
import { MediumCard, Nothing, PageHead, Trouble } from '../parts/page';
import { SittingPanel } from './sitting-panel';

/** The key that opens a station by its number. */
function StationKey({ id }: { id: number }) {
  const router = useRouter();
  useKey(String(id), () => router.push(`/bench?station=${id}`));
  return null;
}

export function BenchView() {
  const { data: stations = [] } = useQuery(stationsQuery);
  const chosen = Number(useSearchParams().get('station') ?? stations.find(({ sitting }) => sitting)?.id ?? 1);
  const station = stations.find(({ id }) => id === chosen) ?? stations[0];
  if (!station) return <><PageHead title="The bench has not answered yet" /><Nothing>Switch the bench on, or check its cable. Stations appear by themselves; everything already read is in Holdings.</Nothing></>;
  return (
    <>
      {stations.map(({ id }) => <StationKey key={id} id={id} />)}
      <AtStation key={station.id} station={station} />
    </>
  );
}

function AtStation({ station }: { station: Station }) {
  const live = station.sitting?.id;
  const { data: sitting } = useQuery({ ...sittingQuery(live ?? 0), enabled: live !== undefined });
  const act = useMutation({ mutationFn: (body: object) => post(`/api/stations/${station.id}`, body) });
  const over = `Station ${station.id} · ${station.model} · ${station.serial}`;
  if (live !== undefined) return sitting ? <SittingPanel sitting={sitting} /> : <PageHead over={over} title="Looking at the sitting …" />;
  const { medium } = station;
  return (
    <div className="grid grid-cols-[1fr_268px] gap-[22px]">
      <div>
        <PageHead over={over} title={medium ? `${medium.code} is in the drive` : `Station ${station.id} is empty`} />
        {medium
          ? <Nothing>{medium.isBlank ? 'A blank: it may be written. Choose what shall go on it in the docket of an image.' : 'An original: it is read and never written. A sitting looks at the first tracks, asks how far to read, takes two turns of every track, outermost to innermost, then reads again what failed.'}</Nothing>
          : <Nothing>Choose a medium in <Link className="font-[650] text-oxide underline" href="/arrivals">Arrivals</Link> and press Enter: it goes in here.</Nothing>}
        <p className="mt-4 text-[13px] text-ink-2">What is read is held against every known <Link className="font-[650] text-oxide underline" href="/layouts">layout</Link>.</p>
        <p className="mt-1 text-[13px] text-ink-2">Readings since the head was cleaned: <b className="text-ink">{station.readingsSinceCleaning}</b></p>
        <Trouble>{act.error?.message}</Trouble>
      </div>
      <aside className="flex flex-col gap-2">
        {medium && <MediumCard {...medium} />}
        {medium && !medium.isBlank && <Button tone="primary" hotkey="Enter" disabled={act.isPending} onClick={() => act.mutate({ action: 'start', unattended: false })}>Look at the first tracks</Button>}
        {medium && !medium.isBlank && <Button hotkey="u" disabled={act.isPending} onClick={() => act.mutate({ action: 'start', unattended: true })}>Read it all, unattended</Button>}
        {medium && <Button hotkey="o" disabled={act.isPending} onClick={() => act.mutate({ action: 'remove' })}>Take {medium.code} out</Button>}
        {medium && <Link href={`/media/${medium.code}`} className="text-[13px] font-[650] text-oxide underline">Open its docket</Link>}
        {!medium && <Button hotkey="c" disabled={act.isPending} onClick={() => act.mutate({ action: 'clean' })}>Head of station {station.id} is clean</Button>}
      </aside>
    </div>
  );
}
