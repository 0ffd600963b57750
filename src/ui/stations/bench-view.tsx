'use client';
/** The bench: one large panel for the sitting at hand. */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter, useSearchParams } from 'next/navigation';
import { useState } from 'react';
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
        <PageHead title="The bench has not answered yet" />
        <EmptyState>
          Switch the bench on, or check its cable. Stations appear by themselves; everything already
          read is in Holdings.
        </EmptyState>
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
  const over = `Station ${station.id} · ${driveName(station)}`;
  if (live !== undefined)
    return sitting ? (
      <SittingPanel sitting={sitting} station={station} onAfar={onAfar} />
    ) : (
      <PageHead over={over} title="Looking at the sitting …" />
    );
  return <IdleStation station={station} over={over} onAfar={onAfar} />;
}

function titleOf({ id, medium, stack, cleaningDue, test }: Station): string {
  if (test && test.state !== 'done' && test.state !== 'failed') return test.now;
  if (stack?.next)
    return cleaningDue && !medium
      ? `Clean the head, then put ${stack.next} in`
      : `Next disk: ${stack.next}`;
  return medium ? `${medium.code} is in the drive` : `Station ${id} is empty`;
}

function IdleStation({
  station,
  over,
  onAfar,
}: {
  station: Station;
  over: string;
  onAfar: () => void;
}) {
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
        {stack && (
          <p className="mb-3 border-l-4 border-ochre bg-ochre-wash px-3 py-2 text-[15px]">
            {stack.begun} of {stack.codes.length} of this stack are begun.
            {stack.next && (
              <>
                {' '}
                {stack.awaits === 'out' ? 'Take out what is in the drive, then put' : 'Put'}{' '}
                <b className="font-mono">{stack.next}</b> in: the drive notices, and reading goes on
                by itself.
              </>
            )}
            {stack.trouble && <b className="block">{stack.trouble}</b>}
          </p>
        )}
        {medium ? (
          <EmptyState>
            {medium.isReference
              ? 'A reference disk: the drive can be tested with it. It is never written.'
              : medium.isBlank
                ? 'A blank: it may be written. Choose what shall go on it in the docket of an ' +
                  'image.'
                : readsBlocks(station.abilities)
                  ? 'An original: it is read and never written. A sitting looks at its own tables, ' +
                    'asks how far to read, takes what comes easily first in large requests, then ' +
                    'works inward on what is hard, and again what failed.'
                  : 'An original: it is read and never written. A sitting looks at the first tracks, ' +
                    'asks how far to read, takes two turns of every track, outermost to innermost, ' +
                    'then reads again what failed.'}
          </EmptyState>
        ) : (
          !stack && (
            <EmptyState>
              Choose a medium in{' '}
              <Link className="font-[650] text-oxide underline" href="/arrivals">
                Arrivals
              </Link>{' '}
              and press Enter: it goes in here. Or put it in and scan its label.
            </EmptyState>
          )
        )}
        {!readsBlocks(station.abilities) && (
          <p className="mt-4 text-[13px] text-ink-2">
            What is read is held against every known{' '}
            <Link className="font-[650] text-oxide underline" href="/layouts">
              layout
            </Link>
            .
          </p>
        )}
        <ErrorAlert>{act.error?.message}</ErrorAlert>
        <DriveCare station={station} />
      </div>
      <aside className="flex flex-col gap-2">
        {medium && <MediumRow {...medium} />}
        {medium && (
          <p className="text-[13px] text-ink-2">
            {station.confirmedAt
              ? 'Its label was scanned at this drive.'
              : 'Not confirmed yet: scan its label to be sure that it is the one.'}
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
            Read it without cleaning
          </Button>
        )}
        {!stack && (
          <Button
            hotkey="k"
            disabled={act.isPending || isBusy(station)}
            onClick={() => setStacking(true)}
          >
            Read a stack
          </Button>
        )}
        <Button hotkey="v" onClick={onAfar}>
          View from afar
        </Button>
        {medium && (
          <Link
            href={`/media/${medium.code}`}
            className="text-[13px] font-[650] text-oxide underline"
          >
            Open its docket
          </Link>
        )}
        <p className="mt-2 text-[12px] text-ink-2">From any page: {id}, then the key.</p>
      </aside>
      <StackDialog open={stacking} onOpenChange={setStacking} station={station} />
    </div>
  );
}
