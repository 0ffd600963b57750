'use client';
/** What is asked of the sounds of everything kept: words, length, rate, root note, held twice. */
import { useRef } from 'react';
import { grouped } from '@/core/text/grouped';
import { say } from '@/messages';
import type { HeldSounds, SoundsAsked } from '../../data/queries';
import { useKey } from '../../parts/keys';

interface SoundFilterProps {
  asked: SoundsAsked;
  rates: HeldSounds['rates'];
  setAsked: (asked: SoundsAsked) => void;
}

const FIELD = 'border border-line bg-sheet px-2 py-1 text-[13px]';

export function SoundFilter({ asked, rates, setAsked }: SoundFilterProps) {
  const words = useRef<HTMLInputElement>(null);
  useKey('/', () => words.current?.focus());
  // What was asked for beyond the first rows was another list.
  const ask = (more: SoundsAsked) => setAsked({ ...asked, more: undefined, ...more });
  return (
    <form
      role="search"
      onSubmit={(event) => event.preventDefault()}
      className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2 text-[13px]"
    >
      <input
        ref={words}
        type="search"
        aria-label={say.sounds.wordsAsked}
        placeholder={say.sounds.wordsAsked}
        value={asked.q ?? ''}
        onChange={({ target }) => ask({ q: target.value })}
        className={`${FIELD} w-64`}
      />
      <Narrowing asked={asked} rates={rates} ask={ask} />
      {asked.pcm && (
        <button
          type="button"
          onClick={() => ask({ pcm: undefined })}
          className="font-[650] text-oxide underline"
        >
          {say.sounds.allAgain}
        </button>
      )}
    </form>
  );
}

interface NarrowingProps extends Pick<SoundFilterProps, 'asked' | 'rates'> {
  ask: (more: SoundsAsked) => void;
}

function Narrowing({ asked, rates, ask }: NarrowingProps) {
  return (
    <>
      <NumberField
        label={say.sounds.atLeastSeconds}
        value={asked.atLeast}
        onChange={(atLeast) => ask({ atLeast })}
      />
      <NumberField
        label={say.sounds.atMostSeconds}
        value={asked.atMost}
        onChange={(atMost) => ask({ atMost })}
      />
      <label className="flex items-center gap-2">
        {say.sounds.rate}
        <select
          value={asked.rate ?? ''}
          onChange={({ target }) => ask({ rate: target.value || undefined })}
          className={FIELD}
        >
          <option value="">{say.sounds.anyRate}</option>
          {rates.map(({ rateHz, sounds }) => (
            <option key={rateHz} value={rateHz}>
              {say.sounds.rateOf({ rate: grouped(rateHz), sounds })}
            </option>
          ))}
        </select>
      </label>
      <NumberField
        label={say.sounds.rootNote}
        value={asked.root}
        onChange={(root) => ask({ root })}
      />
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="size-4"
          checked={asked.twice === 'yes'}
          onChange={({ target }) => ask({ twice: target.checked ? 'yes' : undefined })}
        />
        {say.sounds.heldMoreThanOnce}
      </label>
    </>
  );
}

interface NumberFieldProps {
  label: string;
  value: string | undefined;
  onChange: (value: string | undefined) => void;
}

/** Only a number is asked for; what is none stays in the field. */
function NumberField({ label, value, onChange }: NumberFieldProps) {
  return (
    <label className="flex items-center gap-2">
      {label}
      <input
        inputMode="decimal"
        value={value ?? ''}
        onChange={({ target }) => onChange(target.value.replace(/[^\d.]/g, '') || undefined)}
        className={`${FIELD} w-16`}
      />
    </label>
  );
}
