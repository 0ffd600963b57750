'use client';
/** What is shown on a device's surface, how far it is looked into, and its twin table's switch. */
import { ChoiceButton } from '../../parts/choice-button';
import { Dispatch, SetStateAction } from 'react';
import { grouped } from '../../parts/grade';
import { type BlockView } from './block-surface-layout';
import { SHOWN, type Shown } from './block-surface-props';
import { amount } from '../../parts/amount';
import { say } from '@/messages';

interface BlockToolsProps {
  shown: Shown;
  setShown: Dispatch<SetStateAction<'grade' | 'tries' | 'pace'>>;
  span: number;
  blockBytes: number;
  view: BlockView | null;
  setView: Dispatch<SetStateAction<BlockView | null>>;
  asTable: boolean;
  setAsTable: Dispatch<SetStateAction<boolean>>;
}

export function BlockTools({
  shown,
  setShown,
  span,
  blockBytes,
  view,
  setView,
  asTable,
  setAsTable,
}: BlockToolsProps) {
  return (
    <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-[13px]">
      <ShownChoice shown={shown} setShown={setShown} />
      <span className="text-ink-2">
        {say.charts.aBandIsBlocks({ span: grouped(span), span2: amount(span * blockBytes) })}
      </span>
      <ViewChoice view={view} setView={setView} asTable={asTable} setAsTable={setAsTable} />
    </div>
  );
}

function ShownChoice({
  shown,
  setShown,
}: {
  shown: string;
  setShown: Dispatch<SetStateAction<'grade' | 'tries' | 'pace'>>;
}) {
  return (
    <fieldset className="flex items-center gap-1">
      <legend className="sr-only">{say.charts.shownOnTheSurface}</legend>
      {(Object.keys(SHOWN) as Shown[]).map((each) => (
        <ChoiceButton key={each} isChosen={shown === each} onChoose={() => setShown(each)}>
          {SHOWN[each]}
        </ChoiceButton>
      ))}
    </fieldset>
  );
}

interface ViewChoiceProps {
  view: BlockView | null;
  setView: Dispatch<SetStateAction<BlockView | null>>;
  asTable: boolean;
  setAsTable: Dispatch<SetStateAction<boolean>>;
}

function ViewChoice({ view, setView, asTable, setAsTable }: ViewChoiceProps) {
  return (
    <span className="ml-auto flex items-center gap-3 text-ink-2">
      {view && (
        <button type="button" onClick={() => setView(null)} className="text-oxide underline">
          {say.charts.wholeDevice}
        </button>
      )}
      <button
        type="button"
        aria-pressed={asTable}
        onClick={() => setAsTable(!asTable)}
        className="underline hover:text-ink"
      >
        {say.charts.asATable}
      </button>
    </span>
  );
}
