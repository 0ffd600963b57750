/** What shall be so of all that are chosen: a fact, and its value. */
import { say } from '@/messages';
import { field } from '../../parts/field-look';
import { FACT_INPUTS, firstValue, type CommonFact } from './fact-inputs';

export interface Wanted {
  fact: CommonFact;
  value: string;
}

interface FactSetterProps {
  wanted: Wanted;
  setWanted(wanted: Wanted): void;
}

const FACTS = Object.keys(FACT_INPUTS) as CommonFact[];

export function FactSetter({ wanted: { fact, value }, setWanted }: FactSetterProps) {
  const { choices } = FACT_INPUTS[fact];
  return (
    <>
      <label className="w-56 text-[13px] text-ink-2">
        {say.correct.whichFact}
        <select
          value={fact}
          onChange={({ target }) => {
            const next = target.value as CommonFact;
            setWanted({ fact: next, value: firstValue(next) });
          }}
          className={field}
        >
          {FACTS.map((each) => (
            <option key={each} value={each}>
              {say.correct.facts[each]}
            </option>
          ))}
        </select>
      </label>
      <label className="min-w-0 flex-1 text-[13px] text-ink-2">
        {say.correct.isInTruth}
        {choices ? (
          <select
            value={value}
            onChange={({ target }) => setWanted({ fact, value: target.value })}
            className={field}
          >
            {choices.map(([each, words]) => (
              <option key={each} value={each}>
                {words}
              </option>
            ))}
          </select>
        ) : (
          <input
            value={value}
            autoComplete="off"
            onChange={({ target }) => setWanted({ fact, value: target.value })}
            className={field}
          />
        )}
      </label>
    </>
  );
}
