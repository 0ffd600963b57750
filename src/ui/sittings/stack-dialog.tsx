'use client';
/**
 * Which media make a stack: chosen from the register in their order, or new ones named by a
 * pattern.
 */
import { useMutation, UseMutationResult, useQuery } from '@tanstack/react-query';
import { useState, type FormEvent, type ReactNode } from 'react';
import { post } from '../data/api';
import { arrivalsQuery, type Station } from '../data/queries';
import { Dialog } from '../parts/dialog';
import { ErrorAlert } from '../parts/page';
import { driveName } from '../stations/station-state';
import type { Arrivals } from '../data/queries';
import { field } from '../parts/field-look';
import { say } from '@/messages';

const submit =
  'min-h-9 rounded-sm border border-oxide bg-oxide px-3 font-[650] text-oxide-ink ' +
  'disabled:opacity-45';

export function StackDialog({
  open,
  onOpenChange,
  station,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  station: Station;
}) {
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title={say.sittings.readAStackAt({ id: station.id })}
      about={say.sittings.disksAreReadOne({ station: driveName(station) })}
    >
      {open && <Choice station={station} onDone={() => onOpenChange(false)} />}
    </Dialog>
  );
}

function Labelled({ name, children }: { name: string; children: ReactNode }) {
  return (
    <label className="text-[13px] text-ink-2">
      {name}
      {children}
    </label>
  );
}

function Choice({ station, onDone }: { station: Station; onDone: () => void }) {
  const { data } = useQuery(arrivalsQuery({ stackOf: station.id, form: station.form }));
  const [chosen, setChosen] = useState<string[]>([]);
  const start = useMutation({
    mutationFn: (stack: object) => post(`/api/stations/${station.id}`, { action: 'stack', stack }),
    onSuccess: onDone,
  });
  const fitting = data?.media ?? [];
  const toggle = (code: string) =>
    setChosen((was) => (was.includes(code) ? was.filter((each) => each !== code) : [...was, code]));
  const byPattern = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const text = (name: string) => String(form.get(name) ?? '');
    start.mutate({
      pattern: {
        first: text('first'),
        count: Number(text('count')),
        title: text('title'),
        from: Number(text('from')),
        lot: text('lot'),
      },
    });
  };
  return (
    <>
      <h3 className="mb-1 text-[15px] font-[650]">{say.sittings.fromTheRegister}</h3>
      {fitting.length === 0 ? (
        <p className="mb-3 text-[13px] text-ink-2">{say.sittings.nothingThatWaitsFits}</p>
      ) : (
        <RegisterList fitting={fitting} chosen={chosen} toggle={toggle} />
      )}
      <ReadChosen chosen={chosen} start={start} />
      <h3 className="mb-1 text-[15px] font-[650]">{say.sittings.newOnesNamedBy}</h3>
      <PatternForm byPattern={byPattern} data={data} start={start} />
      <ErrorAlert>{start.error?.message}</ErrorAlert>
    </>
  );
}

interface RegisterListProps {
  fitting: Arrivals['media'];
  chosen: string[];
  toggle: (code: string) => void;
}

function ReadChosen({
  chosen,
  start,
}: {
  chosen: string[];
  start: UseMutationResult<unknown, Error, object, unknown>;
}) {
  return (
    <p className="mb-4 mt-2 flex items-center justify-between text-[13px] text-ink-2">
      {say.sittings.readInTheOrder}
      <button
        type="button"
        disabled={chosen.length === 0 || start.isPending}
        onClick={() => start.mutate({ codes: chosen })}
        className={submit}
      >
        {say.sittings.read}{' '}
        {chosen.length === 1
          ? say.sittings.thisOne
          : say.sittings.these({ chosen: chosen.length || '' })}
      </button>
    </p>
  );
}

function RegisterList({ fitting, chosen, toggle }: RegisterListProps) {
  return (
    <ul className="max-h-[24vh] overflow-auto border border-line">
      {fitting.map(({ code, title, lot }) => (
        <li key={code}>
          <label className="flex items-center gap-3 border-b border-line px-2 py-1.5 text-[14px]">
            <input
              type="checkbox"
              className="size-4"
              checked={chosen.includes(code)}
              onChange={() => toggle(code)}
            />
            <b className="font-mono">{code}</b>
            <span className="flex-1 truncate">{title}</span>
            <span className="text-[12px] text-ink-2">{lot}</span>
            <span className="w-5 text-right font-[650]">
              {chosen.includes(code) ? chosen.indexOf(code) + 1 : ''}
            </span>
          </label>
        </li>
      ))}
    </ul>
  );
}

interface PatternFormProps {
  byPattern: (event: FormEvent<HTMLFormElement>) => void;
  data: Arrivals | undefined;
  start: UseMutationResult<unknown, Error, object, unknown>;
}

function PatternForm({ byPattern, data, start }: PatternFormProps) {
  return (
    <form onSubmit={byPattern} className="grid grid-cols-[1fr_90px_90px] gap-3">
      <Labelled name={say.sittings.firstCode}>
        <input name="first" defaultValue={data?.nextCode} required className={field} />
      </Labelled>
      <Labelled name={say.sittings.howMany}>
        <input
          name="count"
          type="number"
          min={1}
          max={200}
          defaultValue={3}
          required
          className={field}
        />
      </Labelled>
      <Labelled name="{n} from">
        <input name="from" type="number" min={0} defaultValue={1} required className={field} />
      </Labelled>
      <div className="col-span-2">
        <Labelled name={say.sittings.whatTheyAreN}>
          <input name="title" placeholder={say.sittings.fogLogsDiskN} required className={field} />
        </Labelled>
      </div>
      <Labelled name="Lot">
        <input name="lot" className={field} />
      </Labelled>
      <div className="col-span-3 flex justify-end">
        <button type="submit" disabled={start.isPending} className={submit}>
          {say.sittings.registerAndReadThem}
        </button>
      </div>
    </form>
  );
}
