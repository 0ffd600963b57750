'use client';
/**
 * Where an image may be written: each blank in a station with what speaks for and against it, and
 * the one button that starts.
 */
import { tell } from '@/messages/tell';
import { useMutation, UseMutationResult, useQuery } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { Dispatch, SetStateAction, useState } from 'react';
import { TARGET_PROFILES, type TargetFinding } from '@/core/assembly/targets';
import { driveName } from '../stations/station-state';
import { post } from '../data/api';
import { checkQuery, stationsQuery, type Station } from '../data/queries';
import { Button } from '../parts/button';
import { ErrorAlert } from '../parts/page';
import { say } from '@/messages';
import { TARGET_NAMES } from '@/messages/names';

interface Writable {
  copyId: number;
  code: string;
  /** There is a flux capture that may go back as it is. */
  hasFlux: boolean;
}

interface Wanted {
  machine: string;
  count: number;
  precompensate: boolean;
}

function Findings({ findings }: { findings: readonly TargetFinding[] }) {
  return (
    <>
      {findings.map(({ weight, sentence }) => (
        <p
          key={tell(sentence)}
          className={
            weight === 'stops'
              ? 'mt-1 border-l-4 border-oxide bg-oxide-wash px-3 py-1'
              : 'mt-1 border-l-4 border-line px-3 py-1 text-ink-2'
          }
        >
          {tell(sentence)}
        </p>
      ))}
    </>
  );
}

interface BlankRowProps {
  image: Writable;
  station: Station;
  wanted: Wanted;
  onDone: () => void;
}

function BlankRow({ image: { copyId, code, hasFlux }, station, wanted, onDone }: BlankRowProps) {
  const { data } = useQuery(checkQuery(copyId, station.id, wanted.machine));
  const start = useMutation({
    mutationFn: (from: 'image' | 'flux') =>
      post('/api/writebacks', {
        fairCopyId: copyId,
        stationId: station.id,
        from,
        machine: wanted.machine || null,
        count: wanted.count,
        precompensate: wanted.precompensate,
      }),
    onSuccess: onDone,
  });
  const queue = useMutation({
    mutationFn: () =>
      post('/api/writebacks/queue', {
        fairCopyId: copyId,
        stationId: station.id,
        machine: wanted.machine || null,
        count: wanted.count,
        precompensate: wanted.precompensate,
      }),
    onSuccess: onDone,
  });
  const stopped = data?.findings.some(({ weight }) => weight === 'stops') ?? true;
  const target = station.medium!.code;
  if (station.writeback)
    return <StationBusy station={station} target={target} queue={queue} code={code} />;
  return (
    <div data-testid={`blank-${target}`} className="border-b border-line py-2 last:border-0">
      <WriteButtons
        start={start}
        stopped={stopped}
        target={target}
        station={station}
        hasFlux={hasFlux}
      />
      <Findings findings={data?.findings ?? []} />
      <ErrorAlert>{start.error?.message ?? queue.error?.message}</ErrorAlert>
    </div>
  );
}

function StationBusy({
  station,
  target,
  queue,
  code,
}: {
  station: BlankRowProps['station'];
  target: string;
  queue: UseMutationResult<unknown, Error, void, unknown>;
  code: string;
}) {
  return (
    <p className="py-2">
      <span className="text-ink-2">
        {say.writebacks.stationIsBusyWith({ id: station.id, target })}{' '}
      </span>
      <button type="button" onClick={() => queue.mutate()} className="text-oxide underline">
        {say.writebacks.letWaitForThe({ code })}
      </button>
    </p>
  );
}

interface WriteButtonsProps {
  start: UseMutationResult<unknown, Error, 'image' | 'flux', unknown>;
  stopped: boolean;
  target: string;
  station: BlankRowProps['station'];
  hasFlux: boolean;
}

function WriteButtons({ start, stopped, target, station, hasFlux }: WriteButtonsProps) {
  return (
    <div className="flex flex-wrap items-center gap-2">
      {/* No key starts a write: the button names its target, and a hand presses it. */}
      <Button
        tone="primary"
        disabled={start.isPending || stopped}
        onClick={() => start.mutate('image')}
      >
        {say.writebacks.writeToInStation({ target, id: station.id })}{' '}
        <span className="font-normal opacity-90">· {driveName(station)}</span>
      </Button>
      {hasFlux && (
        <Button disabled={start.isPending} onClick={() => start.mutate('flux')}>
          {say.writebacks.writeTheFluxAs({ target })}
        </Button>
      )}
    </div>
  );
}

export function WritebackPanel({ image }: { image: Writable }) {
  const { data: stations = [] } = useQuery(stationsQuery);
  const router = useRouter();
  const [wanted, setWanted] = useState<Wanted>({ machine: '', count: 1, precompensate: true });
  const blanks = stations.filter(
    (station) => station.medium?.isBlank && station.abilities?.writes !== false,
  );
  const field = 'border border-line bg-sheet px-2 py-1 text-ink';
  return (
    <div data-testid="writeback-panel" className="text-[13px]">
      <WantedForm wanted={wanted} setWanted={setWanted} field={field} />
      {wanted.count > 1 && <p className="mb-2 text-ink-2">{say.writebacks.theFirstGoesTo}</p>}
      {blanks.map((station) => (
        <BlankRow
          key={station.id}
          image={image}
          station={station}
          wanted={wanted}
          onDone={() => router.push('/write-back')}
        />
      ))}
      {blanks.length === 0 && <p className="text-ink-2">{say.writebacks.toReturnItTo}</p>}
    </div>
  );
}

interface WantedFormProps {
  wanted: Wanted;
  setWanted: Dispatch<SetStateAction<Wanted>>;
  field: string;
}

function WantedForm({ wanted, setWanted, field }: WantedFormProps) {
  return (
    <div className="mb-2 flex flex-wrap items-center gap-x-5 gap-y-2 text-ink-2">
      <MachineField wanted={wanted} setWanted={setWanted} field={field} />
      <CountField wanted={wanted} setWanted={setWanted} field={field} />
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={wanted.precompensate}
          onChange={(event) => setWanted({ ...wanted, precompensate: event.target.checked })}
          className="size-4"
        />
        {say.writebacks.preCompensateTheInner}
      </label>
    </div>
  );
}

interface MachineFieldProps {
  wanted: Wanted;
  setWanted: WantedFormProps['setWanted'];
  field: string;
}

function MachineField({ wanted, setWanted, field }: MachineFieldProps) {
  return (
    <label className="flex items-center gap-2">
      {say.writebacks.toBeReadBy}
      <select
        value={wanted.machine}
        onChange={(event) => setWanted({ ...wanted, machine: event.target.value })}
        className={field}
      >
        <option value="">{say.writebacks.aMachineNotChosen}</option>
        {TARGET_PROFILES.map(({ id }) => (
          <option key={id} value={id}>
            {TARGET_NAMES[id]}
          </option>
        ))}
      </select>
    </label>
  );
}

interface CountFieldProps {
  wanted: Wanted;
  setWanted: WantedFormProps['setWanted'];
  field: string;
}

function CountField({ wanted, setWanted, field }: CountFieldProps) {
  return (
    <label className="flex items-center gap-2">
      {say.writebacks.disksToMake}
      <input
        type="number"
        min={1}
        max={100}
        value={wanted.count}
        onChange={(event) =>
          setWanted({
            ...wanted,
            count: Math.max(1, Math.min(100, Number(event.target.value) || 1)),
          })
        }
        className={`${field} w-16 text-right`}
      />
    </label>
  );
}
