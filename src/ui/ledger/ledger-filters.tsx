'use client';
/** Which entries of the ledger are meant: words, what happened, who, when. */
import { useRef } from 'react';
import { say } from '@/messages';
import type { LedgerKind } from '@/server/states';
import type { LedgerAsked } from '../data/queries';
import { Button } from '../parts/button';
import { useKey } from '../parts/keys';
import { LEDGER_GROUPS } from './ledger-groups';

const FIELD = 'border border-line bg-sheet px-2 py-1.5 text-[13px]';

interface LedgerFiltersProps {
  asked: LedgerAsked;
  names: readonly string[];
  onAsk: (change: LedgerAsked) => void;
  onClear: () => void;
}

export function LedgerFilters({ asked, names, onAsk, onClear }: LedgerFiltersProps) {
  const words = useRef<HTMLInputElement>(null);
  useKey('/', () => words.current?.focus());
  const isNarrowed = Object.entries(asked).some(([key, value]) => key !== 'before' && value);
  return (
    <div className="mb-4 flex flex-wrap items-center gap-2">
      <input
        ref={words}
        type="search"
        value={asked.q ?? ''}
        onChange={({ target }) => onAsk({ q: target.value })}
        aria-label={say.ledger.filter}
        placeholder={say.ledger.filterByCodeName}
        className={`${FIELD} w-72`}
      />
      <KindChoice kind={asked.kind ?? ''} onAsk={onAsk} />
      <select
        aria-label={say.ledger.who}
        value={asked.who ?? ''}
        onChange={({ target }) => onAsk({ who: target.value })}
        className={`${FIELD} max-w-44`}
      >
        <option value="">{say.ledger.anybody}</option>
        <option value="-">{say.ledger.byItself}</option>
        {names.map((name) => (
          <option key={name} value={name}>
            {name}
          </option>
        ))}
      </select>
      <DayChoice label={say.ledger.from} day={asked.from ?? ''} onAsk={(from) => onAsk({ from })} />
      <DayChoice label={say.ledger.to} day={asked.to ?? ''} onAsk={(to) => onAsk({ to })} />
      {isNarrowed && <Button onClick={onClear}>{say.ledger.clear}</Button>}
    </div>
  );
}

interface KindChoiceProps {
  kind: LedgerKind | '';
  onAsk: LedgerFiltersProps['onAsk'];
}

const GROUPS = Object.entries(LEDGER_GROUPS) as [
  keyof typeof LEDGER_GROUPS,
  readonly LedgerKind[],
][];

const KindChoice = ({ kind, onAsk }: KindChoiceProps) => (
  <select
    aria-label={say.ledger.what}
    value={kind}
    onChange={({ target }) => onAsk({ kind: target.value as LedgerKind | '' })}
    className={`${FIELD} max-w-60`}
  >
    <option value="">{say.ledger.anyKind}</option>
    {GROUPS.map(([group, kinds]) => (
      <optgroup key={group} label={say.ledger.groups[group]}>
        {kinds.map((each) => (
          <option key={each} value={each}>
            {say.ledger.kinds[each]}
          </option>
        ))}
      </optgroup>
    ))}
  </select>
);

interface DayChoiceProps {
  label: string;
  day: string;
  onAsk: (day: string) => void;
}

const DayChoice = ({ label, day, onAsk }: DayChoiceProps) => (
  <label className="flex items-center gap-1.5 text-[13px] text-ink-2">
    {label}
    <input
      type="date"
      value={day}
      onChange={({ target }) => onAsk(target.value)}
      className={`${FIELD} text-ink`}
    />
  </label>
);
