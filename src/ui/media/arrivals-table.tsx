'use client';
/** The media that wait, a row each; files dropped on a row are its papers. */
import { FORM_NAMES, MARK_WORDS, SITTING_STATE_WORDS, LACK_WORDS } from '@/messages/names';
import Link from 'next/link';
import { useEffect, useRef } from 'react';
import { RiskBar } from './condition-strip';
import { keepOutgoing, ownedBy } from './outbox';
import type { ArrivingMedium } from './use-arrivals';
import { say } from '@/messages';
import { docketPage } from '../data/addresses';

/** What is to be done with it next. */
function nextStep(medium: ArrivingMedium): string {
  const { station, sittingState, isBlank, isReference, treatFirst } = medium;
  if (station)
    return sittingState && sittingState !== 'done'
      ? say.media.station({ station, sittingState: SITTING_STATE_WORDS[sittingState] })
      : say.media.inStation({ station });
  if (treatFirst) return say.media.treatFirst;
  if (isReference) return say.media.referenceForTestingDrives;
  if (isBlank) return say.media.blankMayBeWritten;
  return sittingState === 'done'
    ? say.media.readNoLayoutFits
    : sittingState
      ? SITTING_STATE_WORDS[sittingState]
      : say.media.ready;
}

/** What is still to be completed of a medium; nothing of blanks and references. */
function toComplete(medium: ArrivingMedium): string {
  const { lender, labelText, condition, marks, isBlank, isReference } = medium;
  if (isBlank || isReference) return '';
  const lacks = [
    !lender && LACK_WORDS.owner,
    !labelText && LACK_WORDS.label,
    !condition && marks.length === 0 && LACK_WORDS.condition,
  ];
  return lacks.filter(Boolean).join(', ') || '–';
}

function Condition({ medium }: { medium: ArrivingMedium }) {
  const said = [
    ...medium.marks.map((mark) => MARK_WORDS[mark]),
    ...(medium.condition ? [medium.condition] : []),
    ...(medium.writeProtected ? [say.media.writeProtected] : []),
  ];
  return (
    <>
      {said.map((each) => (
        <span
          key={each}
          className="mr-1 inline-block rounded-full border border-line bg-sheet px-2 text-[12px] leading-5"
        >
          {each}
        </span>
      ))}
      {!medium.condition && medium.marks.length === 0 && (
        <span className="text-ink-2">{say.media.notDescribed}</span>
      )}
    </>
  );
}

interface RowProps {
  medium: ArrivingMedium;
  isChosen: boolean;
  onChoose: () => void;
}

function Row({ medium, isChosen, onChoose }: RowProps) {
  const row = useRef<HTMLTableRowElement>(null);
  // In braces: newer browsers give a promise back here, which React would take for the effect's
  // clean-up.
  useEffect(() => {
    if (isChosen) row.current?.scrollIntoView({ block: 'nearest' });
  }, [isChosen]);
  const wantsHand = medium.station || medium.treatFirst;
  return (
    <tr
      ref={row}
      aria-selected={isChosen}
      onClick={onChoose}
      onDragOver={(event) => {
        event.preventDefault();
        onChoose();
      }}
      onDrop={(event) => {
        event.preventDefault();
        void keepOutgoing(ownedBy(medium), [...event.dataTransfer.files]);
      }}
      className="h-9 scroll-mb-44 border-b border-line aria-selected:bg-oxide-wash"
    >
      <td className="whitespace-nowrap pr-4">
        <Link
          href={docketPage(medium.code)}
          className="font-mono font-[650] tracking-wide hover:underline"
        >
          {medium.code}
        </Link>
      </td>
      <td className="pr-4">{medium.title}</td>
      <td className="pr-4 text-ink-2">{medium.labelText || say.media.noLabel}</td>
      <td className="whitespace-nowrap pr-4">{FORM_NAMES[medium.form]}</td>
      <td className="pr-4">
        <Condition medium={medium} />
      </td>
      <td className="pr-4">
        <RiskBar medium={medium} />
      </td>
      <td className="whitespace-nowrap pr-4 text-[13px] text-ink-2">{toComplete(medium)}</td>
      <td className={`whitespace-nowrap ${wantsHand ? 'font-[650] text-oxide' : ''}`}>
        {nextStep(medium)}
      </td>
    </tr>
  );
}

interface ArrivalsTableProps {
  media: readonly ArrivingMedium[];
  chosen: ArrivingMedium | undefined;
  onChoose: (code: string) => void;
}

export function ArrivalsTable({ media, chosen, onChoose }: ArrivalsTableProps) {
  return (
    <table className="w-full border-collapse text-[14px]">
      <thead>
        <tr className="border-b border-line text-[13px] [&>th]:pb-1.5">
          <th>{say.media.code}</th>
          <th>{say.media.whatItIs}</th>
          <th>{say.media.whatTheLabelSays}</th>
          <th>{say.media.medium}</th>
          <th>{say.media.condition}</th>
          <th>{say.media.risk}</th>
          <th>{say.media.lacks}</th>
          <th>{say.media.next}</th>
        </tr>
      </thead>
      <tbody>
        {media.map((medium) => (
          <Row
            key={medium.id}
            medium={medium}
            isChosen={medium === chosen}
            onChoose={() => onChoose(medium.code)}
          />
        ))}
      </tbody>
    </table>
  );
}
