'use client';
/**
 * Arrivals: media registered and waiting, by risk or by code; condition as quick marks; the next
 * one to a station in one gesture.
 */
import { FORM_NAMES } from '@/messages/names';
import { useMutation, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { isRefusedFor, post } from '../data/api';
import { ArrivalsAsked, stationsQuery, type Arrivals } from '../data/queries';
import { Button } from '../parts/button';
import { useKey } from '../parts/keys';
import { grouped } from '@/core/text/grouped';
import { EmptyState, ErrorAlert, PageHead } from '../parts/page';
import { driveName } from '../stations/station-state';
import { ArrivalsFilters } from './arrivals-filters';
import { ArrivalsTable } from './arrivals-table';
import { ConditionStrip } from './condition-strip';
import { LotDialog, type Lot } from './lot-dialog';
import { ManyDialog } from './many-dialog';
import { RegisterDialog } from './register-dialog';
import { ShelfDialog } from './shelf-dialog';
import { useArrivals, type ArrivingMedium } from './use-arrivals';
import { AppRouterInstance } from 'next/dist/shared/lib/app-router-context.shared-runtime';
import { say } from '@/messages';
import { labelsPage } from '../data/addresses';

function headline(data: Arrivals | undefined): string {
  const { waiting = 0, treatFirst = 0 } = data ?? {};
  if (waiting === 0) return say.media.nothingWaitsToBe;
  const media = say.media.mediaWaitToBe({ waiting: grouped(waiting), waiting2: waiting });
  return say.media.toBeTreatedFirst({ treatFirst, media });
}

function lotLine({ name, lender, cameIn, handBackBy }: Lot): string {
  const said = [
    name,
    lender && say.media.lentBy({ lender }),
    cameIn && say.media.cameIn({ cameIn }),
    handBackBy && say.media.toBeHandedBack({ handBackBy }),
  ];
  return said.filter(Boolean).join(' · ');
}

/** Puts a medium in a free station; where a simulated shelf has no disk of its name, asks which. */
function usePlacing() {
  const router = useRouter();
  const [asksFor, setAsksFor] = useState<ArrivingMedium | null>(null);
  const place = useMutation({
    mutationFn: (to: { station: number; medium: ArrivingMedium; shelfLabel?: string }) =>
      post(`/api/stations/${to.station}`, {
        action: 'place',
        code: to.medium.code,
        shelfLabel: to.shelfLabel,
      }),
    onSuccess: (_, { station }) => router.push(`/bench?station=${station}`),
    onError: (error, { medium }) => {
      if (isRefusedFor(error, 'choose-from-shelf')) setAsksFor(medium);
    },
  });
  return { place, asksFor, endAsking: () => setAsksFor(null) };
}

interface ToStationProps {
  chosen: ArrivingMedium | undefined;
  freeStation: number | undefined;
  onGo: () => void;
}

function ToStation({ chosen, freeStation, onGo }: ToStationProps) {
  const canGo = chosen && (chosen.station || (freeStation && !chosen.treatFirst));
  const label = () => {
    if (chosen?.station) return say.media.toItsStation;
    if (chosen?.treatFirst) return say.media.treatItFirst;
    if (freeStation) return say.media.putInStation({ freeStation });
    return chosen
      ? say.media.noStationIsFree({ formName: FORM_NAMES[chosen.form] })
      : say.media.everyStationIsTaken;
  };
  return (
    <Button hotkey="Enter" tone="primary" disabled={!canGo} onClick={onGo}>
      {label()}
    </Button>
  );
}

function NothingShown({ data }: { data: Arrivals | undefined }) {
  return (
    <EmptyState>
      {data && data.all > 0 ? say.media.nothingWaitingAnswersTo : say.media.registerAMediumWith}
    </EmptyState>
  );
}

type Registering = 'one' | 'many' | null;

interface RegisterDialogsProps {
  registering: Registering;
  onChange: (registering: Registering) => void;
  nextCode: string;
}

function RegisterDialogs({ registering, onChange, nextCode }: RegisterDialogsProps) {
  return (
    <>
      <RegisterDialog
        open={registering === 'one'}
        onOpenChange={(open) => onChange(open ? 'one' : null)}
        nextCode={nextCode}
      />
      <ManyDialog
        open={registering === 'many'}
        onOpenChange={(open) => onChange(open ? 'many' : null)}
        nextCode={nextCode}
      />
    </>
  );
}

function LotsLink() {
  const router = useRouter();
  useKey('shift+b', () => router.push('/lots'));
  return (
    <Link href="/lots" className="underline" aria-keyshortcuts="Shift+b">
      {say.descriptions.allLotsAndSets} ⇧B
    </Link>
  );
}

export function ArrivalsView() {
  const { data, media, asked, chosen, choose, ask, showMore } = useArrivals();
  const { data: stations = [] } = useQuery(stationsQuery);
  const router = useRouter();
  const { place, asksFor, endAsking } = usePlacing();
  const [registering, setRegistering] = useState<Registering>(null);
  const [lot, setLot] = useState<Lot | null>(null);
  const free = stations.find((station) => !station.medium && station.form === chosen?.form);
  const itsLot = data?.lots.find(({ name }) => name === chosen?.lot);
  const over = itsLot ? lotLine(itsLot) : say.media.blanksInStock({ blanks: data?.blanks ?? 0 });
  const toStation = () => {
    if (chosen?.station) router.push(`/bench?station=${chosen.station}`);
    else if (chosen && free) place.mutate({ station: free.id, medium: chosen });
  };
  return (
    <>
      <PageHead
        over={
          <>
            <LotsLink />
            {' · '}
            {free && chosen && !chosen.station
              ? say.media.stationIs({ over, id: free.id, free: driveName(free) })
              : over}
          </>
        }
        title={headline(data)}
      >
        <Button hotkey="r" onClick={() => setRegistering('one')}>
          {say.media.registerAMedium}
        </Button>
        <Button hotkey="g" onClick={() => setRegistering('many')}>
          {say.media.registerMany}
        </Button>
        <ToStation chosen={chosen} freeStation={free?.id} onGo={toStation} />
      </PageHead>
      <ArrivalsTools
        asked={asked}
        data={data}
        ask={ask}
        media={media}
        router={router}
        itsLot={itsLot}
        setLot={setLot}
      />
      <ErrorAlert>{asksFor ? null : place.error?.message}</ErrorAlert>
      {media.length === 0 ? (
        <NothingShown data={data} />
      ) : (
        <ArrivalsTable media={media} chosen={chosen} onChoose={choose} />
      )}
      {data && data.total > media.length && (
        <MoreToShow media={media} data={data} showMore={showMore} />
      )}
      {chosen && !chosen.isBlank && !chosen.isReference && (
        <ConditionStrip key={chosen.code} medium={chosen} onSay={() => choose(chosen.code)} />
      )}
      <RegisterDialogs
        registering={registering}
        onChange={setRegistering}
        nextCode={data?.nextCode ?? ''}
      />
      <LotDialog lot={lot} onClose={() => setLot(null)} />
      <ShelfDialog
        medium={asksFor}
        onClose={endAsking}
        onChoose={(shelfLabel) => {
          if (asksFor && free) place.mutate({ station: free.id, medium: asksFor, shelfLabel });
          endAsking();
        }}
      />
    </>
  );
}

interface ArrivalsToolsProps {
  asked: ArrivalsAsked;
  data: Arrivals | undefined;
  ask: (change: ArrivalsAsked) => void;
  media: Arrivals['media'];
  router: AppRouterInstance;
  itsLot: Lot | undefined;
  setLot: (lot: Lot | null) => void;
}

function MoreToShow({
  media,
  data,
  showMore,
}: {
  media: readonly unknown[];
  data: { total: number };
  showMore: () => void;
}) {
  return (
    <p className="mt-3 text-[13px] text-ink-2">
      {say.media.ofAreShown({ media: grouped(media.length), total: grouped(data.total) })}{' '}
      <button type="button" onClick={showMore} className="text-oxide underline">
        {say.media.showMore}
      </button>
      {say.media.orNarrowThemBy}
    </p>
  );
}

function ArrivalsTools({ asked, data, ask, media, router, itsLot, setLot }: ArrivalsToolsProps) {
  return (
    <div className="mb-3 flex flex-wrap items-center gap-2 text-[13px]">
      <ArrivalsFilters asked={asked} incomplete={data?.incomplete ?? 0} onAsk={ask} />
      <Button
        hotkey="shift+l"
        disabled={media.length === 0}
        onClick={() => router.push(labelsPage(media.map(({ code }) => code)))}
      >
        {say.media.labels}
      </Button>
      <Button hotkey="i" onClick={() => router.push('/arrivals/to-complete')}>
        {say.media.toComplete}
      </Button>
      <Button hotkey="shift+c" onClick={() => router.push('/arrivals/correct')}>
        {say.correct.manyAtOnce}
      </Button>
      {itsLot && (
        <Button hotkey="e" onClick={() => setLot(itsLot)}>
          {say.media.change({ name: itsLot.name })}
        </Button>
      )}
    </div>
  );
}
