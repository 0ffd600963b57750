'use client';
/** How the media that wait are narrowed and ordered. */
import { FORM_NAMES } from '@/messages/names';
import { RefObject, useRef } from 'react';
import { type MediumForm } from '@/core/medium-form';
import type { ArrivalsAsked } from '../data/queries';
import { Button } from '../parts/button';
import { useKey } from '../parts/keys';
import { say } from '@/messages';

const FIELD = 'border border-line bg-sheet px-2 py-1.5 text-[13px]';
const ORDERS = { code: say.media.byCode, risk: say.media.byRisk } as const;

interface ArrivalsFiltersProps {
  asked: ArrivalsAsked;
  /** Media that lack something. */
  incomplete: number;
  onAsk: (change: ArrivalsAsked) => void;
}

export function ArrivalsFilters({ asked, incomplete, onAsk }: ArrivalsFiltersProps) {
  const filterInput = useRef<HTMLInputElement>(null);
  useKey('/', () => filterInput.current?.focus());
  const order = asked.order ?? 'code';
  return (
    <>
      <WordFilter filterInput={filterInput} asked={asked} onAsk={onAsk} />
      <FormFilter asked={asked} onAsk={onAsk} />
      <Button hotkey="o" onClick={() => onAsk({ order: order === 'code' ? 'risk' : 'code' })}>
        {say.media.order({ order: ORDERS[order] })}
      </Button>
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={asked.incomplete === '1'}
          onChange={(event) => onAsk({ incomplete: event.target.checked ? '1' : '0' })}
          className="size-4"
        />
        {say.media.lackSomething({ incomplete })}
      </label>
    </>
  );
}

function WordFilter({
  filterInput,
  asked,
  onAsk,
}: {
  filterInput: RefObject<HTMLInputElement | null>;
  asked: ArrivalsAsked;
  onAsk: ArrivalsFiltersProps['onAsk'];
}) {
  return (
    <label>
      <span className="sr-only">{say.media.filter}</span>
      <input
        ref={filterInput}
        value={asked.q ?? ''}
        onChange={(event) => onAsk({ q: event.target.value })}
        placeholder={say.media.filterByAnyWord}
        type="search"
        className={`${FIELD} w-60`}
      />
    </label>
  );
}

interface FormFilterProps {
  asked: ArrivalsAsked;
  onAsk: ArrivalsFiltersProps['onAsk'];
}

function FormFilter({ asked, onAsk }: FormFilterProps) {
  return (
    <label>
      <span className="sr-only">{say.media.form}</span>
      <select
        value={asked.form ?? ''}
        onChange={(event) => onAsk({ form: (event.target.value as MediumForm) || undefined })}
        className={FIELD}
      >
        <option value="">{say.media.everyForm}</option>
        {Object.entries(FORM_NAMES).map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}
