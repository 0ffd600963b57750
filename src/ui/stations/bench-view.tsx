'use client';
/** The bench: one large panel for the sitting at hand. */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter, useSearchParams } from 'next/navigation';
import { Dispatch, SetStateAction, useState } from 'react';
import { readsBlocks } from '@/core/drive-abilities';
import { isRefusedFor } from '../data/api';
import { sittingQuery, stationsQuery, type Station } from '../data/queries';
import { useScanned } from '../frame/scanner';
import { Button } from '../parts/button';
import { useKey } from '../parts/keys';
import { MediumRow, EmptyState, PageHead, ErrorAlert } from '../parts/page';
import { AfarView } from './afar-view';
import { DriveCare } from './drive-care';
import { SittingPanel } from '../sittings/sitting-panel';
import { StackDialog } from '../sittings/stack-dialog';
import { StationButtons, useStationAct } from './station-buttons';
import { driveName, isBusy } from './station-state';
import { say } from '@/messages';
import { docketPage } from '../data/addresses';

export function BenchView() {
  const { data: stations = [] } = useQuery(stationsQuery);
  const router = useRouter();
  const parameters = useSearchParams();
  const chosen = Number(
    parameters.get('station') ?? stations.find(({ sitting }) => sitting)?.id ?? 1,
  );
  const station = stations.find(({ id }) => id === chosen) ?? stations[0];
  const afar = parameters.get('view') === 'afar';
  const show = (view: boolean) =>
    router.replace(`/bench?station=${station?.id ?? 1}${view ? '&view=afar' : ''}`);
  useKey('v', () => show(!afar));
  useKey('Escape', afar ? () => show(false) : undefined);
  if (!station)
    return (
      <>
        <PageHead title={say.stations.theBenchHasNot} />
        <EmptyState>{say.stations.switchTheBenchOn}</EmptyState>
      </>
    );
  return afar ? (
    <AfarView stations={stations} station={station} onClose={() => show(false)} />
  ) : (
    <AtStation key={station.id} station={station} onAfar={() => show(true)} />
  );
}

function AtStation({ station, onAfar }: { station: Station; onAfar: () => void }) {
  const live = station.sitting?.id;
  const { data: sitting } = useQuery({ ...sittingQuery(live ?? 0), enabled: live !== undefined });
  const over = say.stations.station2({ id: station.id, station: driveName(station) });
  if (live !== undefined)
    return sitting ? (
      <SittingPanel sitting={sitting} station={station} onAfar={onAfar} />
    ) : (
      <PageHead over={over} title={say.stations.lookingAtTheSitting} />
    );
  return <IdleStation station={station} over={over} onAfar={onAfar} />;
}

function titleOf({ id, medium, stack, cleaningDue, test }: Station): string {
  if (test && test.state !== 'done' && test.state !== 'failed') return test.now;
  if (stack?.next)
    return cleaningDue && !medium
      ? say.stations.cleanTheHeadThen({ next: stack.next })
      : say.stations.nextDisk({ next: stack.next });
  return medium
    ? say.stations.isInTheDrive({ code: medium.code })
    : say.stations.stationIsEmpty({ id });
}

interface IdleStationProps {
  station: Station;
  over: string;
  onAfar: () => void;
}

function IdleStation({ station, over, onAfar }: IdleStationProps) {
  const { id, medium, stack } = station;
  const [stacking, setStacking] = useState(false);
  const act = useStationAct();
  const path = `/api/stations/${id}`;
  useScanned((code) => {
    if (medium) return false;
    // A label scanned at an empty station: its disk was put in here.
    act.mutate({ path, body: { action: 'place', code, scanned: true } });
    return true;
  });
  const uncleaned = isRefusedFor(act.error, 'head-wants-cleaning');
  return (
    <div className="grid grid-cols-[1fr_268px] gap-[22px]">
      <div>
        <PageHead over={over} title={titleOf(station)} />
        {stack && <StackNotice stack={stack} />}
        {medium ? <WhatItIs medium={medium} station={station} /> : !stack && <NothingIn />}
        {!readsBlocks(station.abilities) && <AboutLayouts />}
        <ErrorAlert>{act.error?.message}</ErrorAlert>
        <DriveCare station={station} />
      </div>
      <IdleAside
        medium={medium}
        station={station}
        act={act}
        uncleaned={uncleaned}
        path={path}
        stack={stack}
        setStacking={setStacking}
        onAfar={onAfar}
        id={id}
      />
      <StackDialog open={stacking} onOpenChange={setStacking} station={station} />
    </div>
  );
}

function StackNotice({ stack }: { stack: NonNullable<IdleStationProps['station']['stack']> }) {
  return (
    <p className="mb-3 border-l-4 border-ochre bg-ochre-wash px-3 py-2 text-[15px]">
      {say.stations.ofOfThisStack({ begun: stack.begun, codes: stack.codes.length })}
      {stack.next && (
        <>
          {' '}
          {stack.awaits === 'out' ? say.stations.takeOutWhatIs : say.stations.put}{' '}
          <b className="font-mono">{stack.next}</b> {say.stations.inTheDriveNotices}
        </>
      )}
      {stack.trouble && <b className="block">{stack.trouble}</b>}
    </p>
  );
}

function WhatItIs({
  medium,
  station,
}: {
  medium: NonNullable<IdleStationProps['station']['medium']>;
  station: IdleStationProps['station'];
}) {
  return (
    <EmptyState>
      {medium.isReference
        ? say.stations.aReferenceDiskThe
        : medium.isBlank
          ? say.stations.aBlankItMay
          : readsBlocks(station.abilities)
            ? say.stations.anOriginalItIs
            : say.stations.anOriginalItIsRead}
    </EmptyState>
  );
}

function NothingIn(): import('react').ReactNode {
  return (
    <EmptyState>
      {say.stations.chooseAMediumIn}{' '}
      <Link className="font-[650] text-oxide underline" href="/arrivals">
        {say.stations.arrivals}
      </Link>{' '}
      {say.stations.andPressEnterIt}
    </EmptyState>
  );
}

function AboutLayouts(): import('react').ReactNode {
  return (
    <p className="mt-4 text-[13px] text-ink-2">
      {say.stations.whatIsReadIs}{' '}
      <Link className="font-[650] text-oxide underline" href="/layouts">
        {say.stations.layout}
      </Link>
      .
    </p>
  );
}

interface IdleAsideProps {
  medium: IdleStationProps['station']['medium'];
  station: IdleStationProps['station'];
  act: ReturnType<typeof useStationAct>;
  uncleaned: boolean;
  path: string;
  stack: IdleStationProps['station']['stack'];
  setStacking: Dispatch<SetStateAction<boolean>>;
  onAfar: () => void;
  id: number;
}

function IdleAside({
  medium,
  station,
  act,
  uncleaned,
  path,
  stack,
  setStacking,
  onAfar,
  id,
}: IdleAsideProps) {
  return (
    <aside className="flex flex-col gap-2">
      {medium && <MediumRow {...medium} />}
      {medium && (
        <p className="text-[13px] text-ink-2">
          {station.confirmedAt ? say.stations.itsLabelWasScanned : say.stations.notConfirmedYetScan}
        </p>
      )}
      <StationButtons station={station} act={act} />
      {uncleaned && (
        <Button
          disabled={act.isPending}
          onClick={() =>
            act.mutate({ path, body: { action: 'start', unattended: false, uncleaned: true } })
          }
        >
          {say.stations.readItWithoutCleaning}
        </Button>
      )}
      {!stack && (
        <Button
          hotkey="k"
          disabled={act.isPending || isBusy(station)}
          onClick={() => setStacking(true)}
        >
          {say.stations.readAStack}
        </Button>
      )}
      <Button hotkey="v" onClick={onAfar}>
        {say.stations.viewFromAfar}
      </Button>
      {medium && (
        <Link
          href={docketPage(medium.code)}
          className="text-[13px] font-[650] text-oxide underline"
        >
          {say.stations.openItsDocket}
        </Link>
      )}
      <p className="mt-2 text-[12px] text-ink-2">{say.stations.fromAnyPageThen({ id })}</p>
    </aside>
  );
}
