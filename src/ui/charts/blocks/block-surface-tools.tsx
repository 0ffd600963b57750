'use client';
/** What is shown on a device's surface, how far it is looked into, and its twin table's switch. */
import { ChoiceButton } from '../../parts/choice-button';
import { Dispatch, SetStateAction } from 'react';
import { grouped } from '@/core/text/grouped';
import { type BlockView } from './block-surface-layout';
import { SHOWN, type Shown } from './block-surface-props';
import { amount } from '@/core/text/amount';
import { ViewTools } from '../view-tools';
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
      <ViewTools
        whole={view && say.charts.wholeDevice}
        onWhole={() => setView(null)}
        asTable={asTable}
        setAsTable={setAsTable}
      />
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
