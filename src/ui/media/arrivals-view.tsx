'use client';
/**
 * Arrivals: media registered and waiting, by risk or by code; condition as quick marks; the next
 * one to a station in one gesture.
 */
import { useMutation, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import { MARK_WORDS, riskOf } from '@/core/condition';
import { FORM_NAMES } from '@/core/medium-form';
import { post } from '../data/api';
import { arrivalsQuery, stationsQuery, type Arrivals } from '../data/queries';
import { driveName } from '../stations/station-state';
import { Button } from '../parts/button';
import { keepOutgoing, ownedBy } from './outbox';
import { useScanned } from '../frame/scanner';
import { useKey } from '../parts/keys';
import { EmptyState, PageHead, ErrorAlert } from '../parts/page';
import { ConditionStrip, RiskBar } from './condition-strip';
import { LotDialog, type Lot } from './lot-dialog';
import { ManyDialog } from './many-dialog';
import { RegisterDialog } from './register-dialog';
import { ShelfDialog } from './shelf-dialog';

type Medium = Arrivals['media'][number];

const next = ({ station, sittingState, isBlank, isReference, treatFirst }: Medium) => {
  if (station)
    return sittingState && sittingState !== 'done'
      ? `station ${station}, ${sittingState}`
      : `in station ${station}`;
  if (treatFirst) return 'treat first';
  if (isReference) return 'reference, for testing drives';
  if (isBlank) return 'blank, may be written';
  return sittingState === 'done' ? 'read, no layout fits' : (sittingState ?? 'ready');
};

/** What is still to be completed of a medium. */
const toCompleteOf = ({ lender, labelText, condition, marks }: Medium) =>
  [
    !lender && 'owner',
    !labelText && 'label',
    !condition && marks.length === 0 && 'condition',
  ].filter(Boolean) as string[];

const ORDERS = { code: 'by code', risk: 'by risk' } as const;

/**
 * What answers to the filters, in order. The chosen one stays when nothing of it is to be
 * completed any more,
 * so that the next key still means it.
 */
function shownOf(
  media: readonly Medium[],
  order: keyof typeof ORDERS,
  words: readonly string[],
  form: string,
  toComplete: boolean,
  chosenCode: string,
): Medium[] {
  const shown = media.filter((medium) => {
    const text =
      `${medium.code} ${medium.title} ${medium.labelText} ${medium.lender} ${medium.lot} ${medium.condition} ${medium.marks.map((mark) => MARK_WORDS[mark]).join(' ')}`.toLowerCase();
    return (
      words.every((word) => text.includes(word)) &&
      (form === '' || medium.form === form) &&
      (!toComplete ||
        medium.code === chosenCode ||
        (!medium.isBlank && !medium.isReference && toCompleteOf(medium).length > 0))
    );
  });
  return order === 'code'
    ? shown
    : shown.sort(
        (a, b) =>
          Number(a.isBlank) - Number(b.isBlank) ||
          riskOf(b.marks, b.treatFirst) - riskOf(a.marks, a.treatFirst) ||
          a.code.localeCompare(b.code),
      );
}

export function ArrivalsView() {
  const { data } = useQuery(arrivalsQuery);
  const { data: stations = [] } = useQuery(stationsQuery);
  const router = useRouter();
  const filterInput = useRef<HTMLInputElement>(null);
  // By code, not by place in the list: a mark reorders the list under the hand that sets the next
  // one.
  const [chosenCode, setChosenCode] = useState('');
  const chosenRow = useRef<HTMLTableRowElement>(null);
  const [order, setOrder] = useState<keyof typeof ORDERS>('code');
  const [filter, setFilter] = useState('');
  const [form, setForm] = useState('');
  const [incompleteOnly, setIncompleteOnly] = useState(false);
  const [registering, setRegistering] = useState<'one' | 'many' | null>(null);
  const [lot, setLot] = useState<Lot | null>(null);
  const [choosing, setChoosing] = useState<Medium | null>(null);
  const all = data?.media ?? [];
  const media = shownOf(
    all,
    order,
    filter.toLowerCase().split(/\s+/).filter(Boolean),
    form,
    incompleteOnly,
    chosenCode,
  );
  const chosen = media.find(({ code }) => code === chosenCode) ?? media[0];
  const step = (by: 1 | -1) => {
    const to = chosen && media[media.indexOf(chosen) + by];
    if (to) setChosenCode(to.code);
  };
  // In braces: newer browsers give a promise back here, which React would take for the effect's
  // clean-up.
  useEffect(() => {
    chosenRow.current?.scrollIntoView({ block: 'nearest' });
  }, [chosenCode]);
  const free = stations.find((station) => !station.medium && station.form === chosen?.form);
  const place = useMutation({
    mutationFn: ({
      station,
      code,
      shelfLabel,
    }: {
      station: number;
      code: string;
      shelfLabel?: string;
    }) => post(`/api/stations/${station}`, { action: 'place', code, shelfLabel }),
    onSuccess: (_, { station }) => router.push(`/bench?station=${station}`),
    onError: (error, { code }) => {
      // A simulated shelf may not hold a disk of this name: a hand must choose one.
      const medium = all.find((each) => each.code === code);
      if (medium && /shelf/.test(error.message)) setChoosing(medium);
    },
  });
  const toStation = () => {
    if (!chosen) return;
    if (chosen.station) router.push(`/bench?station=${chosen.station}`);
    else if (free) place.mutate({ station: free.id, code: chosen.code });
  };
  useKey('ArrowDown', () => step(1));
  useKey('ArrowUp', () => step(-1));
  useKey('/', () => filterInput.current?.focus());
  useScanned((code) => {
    if (!all.some((medium) => medium.code === code)) return false;
    setFilter('');
    setForm('');
    setIncompleteOnly(false);
    setChosenCode(code);
    return true;
  });
  const waiting = all.filter(({ isBlank, isReference }) => !isBlank && !isReference);
  const treat = waiting.filter(({ treatFirst }) => treatFirst).length;
  const toComplete = waiting.filter((medium) => toCompleteOf(medium).length > 0).length;
  const itsLot = data?.lots.find(({ name }) => name === chosen?.lot);
  const title =
    waiting.length === 0
      ? 'Nothing waits to be read'
      : `${waiting.length} ${waiting.length === 1 ? 'medium waits' : 'media wait'} to be ` +
        `read${treat > 0 ? `; ${treat} to be treated first` : ''}`;
  const over = itsLot
    ? [
        itsLot.name,
        itsLot.lender && `lent by ${itsLot.lender}`,
        itsLot.cameIn && `came in ${itsLot.cameIn}`,
        itsLot.handBackBy && `to be handed back by ${itsLot.handBackBy}`,
      ]
        .filter(Boolean)
        .join(' · ')
    : `${all.filter(({ isBlank }) => isBlank).length} blanks in stock`;
  const field = 'border border-line bg-sheet px-2 py-1.5 text-[13px]';
  return (
    <>
      <PageHead
        over={
          free && chosen && !chosen.station
            ? `${over} · station ${free.id} is ${driveName(free)}`
            : over
        }
        title={title}
      >
        <Button hotkey="r" onClick={() => setRegistering('one')}>
          Register a medium
        </Button>
        <Button hotkey="g" onClick={() => setRegistering('many')}>
          Register many
        </Button>
        <Button
          hotkey="Enter"
          tone="primary"
          disabled={!chosen || (!chosen.station && (!free || chosen.treatFirst))}
          onClick={toStation}
        >
          {chosen?.station
            ? 'To its station'
            : chosen?.treatFirst
              ? 'Treat it first'
              : free
                ? `Put in station ${free.id}`
                : chosen
                  ? `No ${FORM_NAMES[chosen.form]} station is free`
                  : 'Every station is taken'}
        </Button>
      </PageHead>
      <div className="mb-3 flex flex-wrap items-center gap-2 text-[13px]">
        <label>
          <span className="sr-only">Filter</span>
          <input
            ref={filterInput}
            value={filter}
            onChange={(event) => {
              setFilter(event.target.value);
              setChosenCode('');
            }}
            placeholder="Filter by any word   /"
            type="search"
            className={`${field} w-60`}
          />
        </label>
        <label>
          <span className="sr-only">Form</span>
          <select
            value={form}
            onChange={(event) => {
              setForm(event.target.value);
              setChosenCode('');
            }}
            className={field}
          >
            <option value="">every form</option>
            {Object.entries(FORM_NAMES).map(([id, name]) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <Button
          hotkey="o"
          onClick={() => {
            setOrder(order === 'code' ? 'risk' : 'code');
            setChosenCode('');
          }}
        >
          Order: {ORDERS[order]}
        </Button>
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={incompleteOnly}
            onChange={(event) => {
              setIncompleteOnly(event.target.checked);
              setChosenCode('');
            }}
            className="size-4"
          />
          lack something ({toComplete})
        </label>
        <Button
          hotkey="shift+l"
          disabled={media.length === 0}
          onClick={() => router.push(`/labels?codes=${media.map(({ code }) => code).join(',')}`)}
        >
          Labels
        </Button>
        <Button hotkey="i" onClick={() => router.push('/arrivals/to-complete')}>
          To complete
        </Button>
        {itsLot && (
          <Button hotkey="e" onClick={() => setLot(itsLot)}>
            Change {itsLot.name}
          </Button>
        )}
      </div>
      <ErrorAlert>{choosing ? null : place.error?.message}</ErrorAlert>
      {media.length === 0 ? (
        <EmptyState>
          {all.length > 0
            ? 'Nothing waiting answers to that filter.'
            : 'Register a medium with R, or many with G, then put one in a station. Files that ' +
              'exist already are dropped on Holdings.'}
        </EmptyState>
      ) : (
        <table className="w-full border-collapse text-[14px]">
          <thead>
            <tr className="border-b border-line text-[13px] [&>th]:pb-1.5">
              <th>Code</th>
              <th>What it is</th>
              <th>What the label says</th>
              <th>Medium</th>
              <th>Condition</th>
              <th>Risk</th>
              <th>To complete</th>
              <th>Next</th>
            </tr>
          </thead>
          <tbody>
            {media.map((medium) => (
              <tr
                key={medium.id}
                ref={medium === chosen ? chosenRow : null}
                aria-selected={medium === chosen}
                onClick={() => setChosenCode(medium.code)}
                onDragOver={(event) => {
                  event.preventDefault();
                  setChosenCode(medium.code);
                }}
                onDrop={(event) => {
                  event.preventDefault();
                  void keepOutgoing(ownedBy(medium), [...event.dataTransfer.files]);
                }}
                className="h-9 scroll-mb-44 border-b border-line aria-selected:bg-oxide-wash"
              >
                <td className="whitespace-nowrap pr-4">
                  <Link
                    href={`/media/${medium.code}`}
                    className="font-mono font-[650] tracking-wide hover:underline"
                  >
                    {medium.code}
                  </Link>
                </td>
                <td className="pr-4">{medium.title}</td>
                <td className="pr-4 text-ink-2">{medium.labelText || 'no label'}</td>
                <td className="whitespace-nowrap pr-4">{FORM_NAMES[medium.form]}</td>
                <td className="pr-4">
                  {[
                    ...medium.marks.map((mark) => MARK_WORDS[mark]),
                    ...(medium.condition ? [medium.condition] : []),
                    ...(medium.writeProtected ? ['write-protected'] : []),
                  ].map((each) => (
                    <span
                      key={each}
                      className="mr-1 inline-block rounded-full border border-line bg-sheet px-2 text-[12px] leading-5"
                    >
                      {each}
                    </span>
                  ))}
                  {!medium.condition && medium.marks.length === 0 && (
                    <span className="text-ink-2">not described</span>
                  )}
                </td>
                <td className="pr-4">
                  <RiskBar medium={medium} />
                </td>
                <td className="whitespace-nowrap pr-4 text-[13px] text-ink-2">
                  {medium.isBlank || medium.isReference
                    ? ''
                    : toCompleteOf(medium).join(', ') || '–'}
                </td>
                <td
                  className={`whitespace-nowrap ${medium.station || medium.treatFirst ? 'font-[650] text-oxide' : ''}`}
                >
                  {next(medium)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {chosen && !chosen.isBlank && !chosen.isReference && (
        <ConditionStrip
          key={chosen.code}
          medium={chosen}
          onSay={() => setChosenCode(chosen.code)}
        />
      )}
      <RegisterDialog
        open={registering === 'one'}
        onOpenChange={(open) => setRegistering(open ? 'one' : null)}
        nextCode={data?.nextCode ?? ''}
      />
      <ManyDialog
        open={registering === 'many'}
        onOpenChange={(open) => setRegistering(open ? 'many' : null)}
        nextCode={data?.nextCode ?? ''}
      />
      <LotDialog lot={lot} onClose={() => setLot(null)} />
      <ShelfDialog
        medium={choosing}
        onClose={() => setChoosing(null)}
        onChoose={(shelfLabel) => {
          if (choosing && free) place.mutate({ station: free.id, code: choosing.code, shelfLabel });
          setChoosing(null);
        }}
      />
    </>
  );
}
