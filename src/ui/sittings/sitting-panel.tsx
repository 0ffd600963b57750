'use client';
/**
 * A sitting as it goes on: what happens now and why, the tally, the surface filling in, what
 * happened.
 */
import { tell } from '@/messages/tell';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useEffect, useState } from 'react';
import { describeMedium } from '@/core/block/device';
import { BlockSurfaceChart } from '../charts/blocks/block-surface-chart';
import { SurfaceChart } from '../charts/surface-chart';
import { sittingLedgerQuery, type Sitting, type Station } from '../data/queries';
import { Button } from '../parts/button';
import { BlockRangeRuler } from './block-range-ruler';
import { RangeRuler } from './range-ruler';
import { StationButtons, useStationAct } from '../stations/station-buttons';
import { driveName } from '../stations/station-state';
import { TallyRow } from '../parts/grade';
import { EventList, MediumRow, PageHead, ErrorAlert, when } from '../parts/page';
import { say } from '@/messages';
import { docketPage } from '../data/addresses';

/** Room for the head, the tally and the line under the chart, in pixels. */
const AROUND_CHART = 84 + 286;

function useChartHeight(): number {
  const [height, setHeight] = useState(500);
  useEffect(() => {
    const fit = () => setHeight(Math.max(320, window.innerHeight - AROUND_CHART));
    fit();
    window.addEventListener('resize', fit);
    return () => window.removeEventListener('resize', fit);
  }, []);
  return height;
}

function timeLeft(seconds: number | null): string {
  if (seconds === null) return say.sittings.notKnownYet;
  if (seconds < 10) return say.sittings.aFewSeconds;
  return seconds < 90
    ? `${seconds} s`
    : say.sittings.minS({
        seconds: Math.floor(seconds / 60),
        seconds2: String(seconds % 60).padStart(2, '0'),
      });
}

/** The track under the head, read off the last one that came in. */
function lastTrack({ tracks, state }: Sitting) {
  const last = tracks[tracks.length - 1];
  return last && state === 'reading' ? { cylinder: last.cylinder, head: last.head } : null;
}

const LAYOUT_PENDING = say.sittings.layoutShowsWithThe;

interface SittingPanelProps {
  sitting: Sitting;
  station: Station;
  onAfar: () => void;
}

export function SittingPanel({ sitting, station, onAfar }: SittingPanelProps) {
  const { medium, state, tally, cylinders, heads, blocks } = sitting;
  const act = useStationAct();
  const { data: lines = [] } = useQuery(sittingLedgerQuery(sitting.id));
  const height = useChartHeight() - (sitting.state === 'asks' ? 150 : 0);
  const running = state === 'reading' || state === 'waiting';
  const title = titleOf(sitting);
  return (
    <div className="grid grid-cols-[1fr_268px] gap-[22px]">
      <div className="min-w-0">
        <SittingHead station={station} sitting={sitting} blocks={blocks} title={title} />
        {(state === 'held' || state === 'dirty') && (
          <p
            role="alert"
            className="waits mb-3 border-l-4 border-ochre bg-ochre-wash px-3 py-2 text-[15px] font-[650]"
          >
            {sitting.now}
          </p>
        )}
        {sitting.duplicateMatch && <LikenessSeen match={sitting.duplicateMatch} />}
        <div className="mb-3 flex items-end justify-between">
          <TallyRow tally={tally} large />
          {running && <TimeLeft sitting={sitting} />}
        </div>
        {state === 'asks' && sitting.preview && <RangeRuler sitting={sitting} />}
        {state === 'asks' && blocks?.preview && <BlockRangeRuler sitting={sitting} />}
        {blocks ? (
          <BlockSurfaceChart
            extents={blocks.extents}
            blocks={blocks.device.blocks}
            blockBytes={blocks.device.blockBytes}
            height={height}
            active={state === 'reading' ? blocks.at : null}
          />
        ) : (
          <SurfaceChart
            tracks={sitting.tracks}
            cylinders={cylinders}
            heads={heads}
            height={height}
            active={lastTrack(sitting)}
          />
        )}
      </div>
      <aside className="flex flex-col gap-2">
        <MediumRow {...medium} />
        <StationButtons station={station} act={act} />
        <Button hotkey="v" onClick={onAfar}>
          {say.sittings.viewFromAfar}
        </Button>
        {station.stack?.next && <StackState stack={station.stack} />}
        <p className="text-[13px] text-ink-2">
          {station.confirmedAt ? say.sittings.itsLabelWasScanned : say.sittings.scanItsLabelTo}
        </p>
        <Link
          href={docketPage(medium.code)}
          className="text-[13px] font-[650] text-oxide underline"
        >
          {say.sittings.openItsDocket}
        </Link>
        <ErrorAlert>{act.error?.message}</ErrorAlert>
        <h2 className="mt-3">{say.sittings.whatHappened}</h2>
        <div className="max-h-[360px] overflow-auto pr-1">
          <EventList lines={lines} />
        </div>
      </aside>
    </div>
  );
}

function SittingHead({
  station,
  sitting,
  blocks,
  title,
}: {
  station: SittingPanelProps['station'];
  sitting: SittingPanelProps['sitting'];
  blocks: SittingPanelProps['sitting']['blocks'];
  title: string;
}) {
  return (
    <PageHead
      over={say.sittings.stationStarted({
        id: station.id,
        station: driveName(station),
        stepping: sitting.stepping,
        device: blocks ? tell(describeMedium(blocks.device)) : (sitting.layout ?? LAYOUT_PENDING),
        startedAt: when(sitting.startedAt),
      })}
      title={<span data-testid="sitting-now">{title}</span>}
    />
  );
}

function TimeLeft({ sitting }: { sitting: SittingPanelProps['sitting'] }) {
  return (
    <p className="text-right text-[13px] text-ink-2">
      {say.sittings.about}
      <br />
      <b className="text-[22px] leading-7 text-ink">{timeLeft(sitting.secondsLeft)}</b>
      <br />
      {say.sittings.leftOfThisPass}
    </p>
  );
}

function StackState({ stack }: { stack: NonNullable<Station['stack']> }) {
  return (
    <p className="text-[13px] text-ink-2">
      {say.sittings.stackOfBegunThen({
        begun: stack.begun,
        codes: stack.codes.length,
      })}{' '}
      <b className="font-mono">{stack.next}</b>.
    </p>
  );
}

/** What is going on, as the heading has it. */
function titleOf({ state, requestedAction, blocks, now, tracks, station }: Sitting): string {
  if (requestedAction === 'pause' && (state === 'reading' || state === 'waiting'))
    return blocks ? say.sittings.pausingAfterThisRequest : say.sittings.pausingAfterThisTrack;
  if (state === 'paused')
    return blocks ? now : say.sittings.pausedWithTracksKept({ tracks: tracks.length });
  if (state === 'held') return say.sittings.theBenchAsksFor;
  return state === 'dirty' ? say.sittings.cleanTheHeadOf({ id: station.id }) : now;
}

function LikenessSeen({ match }: { match: NonNullable<Sitting['duplicateMatch']> }) {
  return (
    <p
      role="status"
      data-testid="likeness"
      className="mb-3 border-l-4 border-ochre bg-ochre-wash px-3 py-1.5 text-[14px]"
    >
      {say.sittings.soFarItIs}{' '}
      <Link href={docketPage(match.code)} className="font-mono font-[650] underline">
        {match.code}
      </Link>
      {say.sittings.whichIsKeptAlready({ same: match.same, of: match.of })}
    </p>
  );
}
