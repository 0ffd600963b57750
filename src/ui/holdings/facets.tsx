'use client';
/** What the answers can be narrowed by, with how many each would leave. */
import { FORM_NAMES, heldWord, isHeldWord } from '@/messages/names';
import type { Asked, Holdings } from '../data/queries';
import { say } from '@/messages';
import { JSX } from 'react/jsx-runtime';

type Facet = keyof Holdings['facets'];
const NAMES: Record<Facet, string> = {
  state: say.holdings.state,
  form: say.holdings.medium,
  filesystem: say.holdings.volume,
  lender: say.holdings.lender,
  lot: say.holdings.lot,
  layout: say.holdings.layout,
};
const ORDER: readonly Facet[] = ['state', 'form', 'filesystem', 'lender', 'lot', 'layout'];
/** Values shown before the rest is folded away. */
const SHOWN = 6;

const wordOf = (facet: Facet, value: string) =>
  facet === 'form'
    ? FORM_NAMES[value as keyof typeof FORM_NAMES]
    : facet === 'filesystem' && !isHeldWord(value)
      ? value.toUpperCase()
      : heldWord(value);

interface ValueProps {
  facet: Facet;
  value: string;
  count: number;
  asked: Asked;
  onAsk: (asked: Asked) => void;
}

function Value({ facet, value, count, asked, onAsk }: ValueProps) {
  const on = asked[facet] === value;
  const toggle = () => {
    const rest = { ...asked };
    delete rest.more;
    delete rest[facet];
    onAsk(on ? rest : { ...rest, [facet]: value });
  };
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={toggle}
      className={
        'flex min-h-[24px] w-full items-center gap-2 border-l-4 border-transparent px-2 ' +
        'text-left text-[13px] hover:bg-sheet aria-pressed:border-oxide ' +
        'aria-pressed:bg-oxide-wash aria-pressed:font-[650]'
      }
    >
      <span className="min-w-0 flex-1 truncate" title={wordOf(facet, value)}>
        {wordOf(facet, value)}
      </span>
      <span className="text-ink-2">{count}</span>
    </button>
  );
}

interface FacetsProps {
  facets: Holdings['facets'];
  asked: Asked;
  onAsk: (asked: Asked) => void;
}

export function Facets({ facets, asked, onAsk }: FacetsProps) {
  const chosen = ORDER.filter((facet) => asked[facet] !== undefined);
  return (
    <nav
      aria-label={say.holdings.narrowTheHoldings}
      data-testid="facets"
      className="sticky top-0 max-h-[calc(100vh-110px)] self-start overflow-auto pr-1"
    >
      {chosen.length > 0 && (
        <button
          type="button"
          onClick={() => onAsk({ q: asked.q })}
          className="mb-2 text-[13px] text-oxide underline"
        >
          {say.holdings.showAllAgain}
        </button>
      )}
      {ORDER.filter((facet) => facets[facet].length > 1 || asked[facet] !== undefined).map(
        (facet) => {
          const values = facets[facet].filter(
            ({ value }) => asked[facet] === undefined || value === asked[facet],
          );
          const row = ({ value, count }: { value: string; count: number }) => (
            <Value
              key={value}
              facet={facet}
              value={value}
              count={count}
              asked={asked}
              onAsk={onAsk}
            />
          );
          return <FacetValues key={facet} facet={facet} values={values} row={row} />;
        },
      )}
    </nav>
  );
}

function FacetValues({
  facet,
  values,
  row,
}: {
  facet: Facet;
  values: { value: string; count: number }[];
  row: ({ value, count }: { value: string; count: number }) => JSX.Element;
}) {
  return (
    <section aria-label={NAMES[facet]} className="mb-3">
      <h2 className="px-2 text-[13px] text-ink-2">{NAMES[facet]}</h2>
      {values.slice(0, SHOWN).map(row)}
      {values.length > SHOWN && (
        <details>
          <summary className="min-h-[24px] cursor-pointer px-2 text-[13px] text-oxide">
            {say.holdings.more({ values: values.length - SHOWN })}
          </summary>
          {values.slice(SHOWN).map(row)}
        </details>
      )}
    </section>
  );
}
