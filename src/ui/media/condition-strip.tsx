'use client';
/** Quick marks of the chosen medium's condition: one key each. */
import { MARK_WORDS, SIDE_WORDS } from '@/messages/names';
import { useMutation, UseMutationResult } from '@tanstack/react-query';
import {
  CONDITION_MARKS,
  MAX_RISK,
  RECORDED_SIDES,
  riskOf,
  type ConditionMark,
} from '@/core/condition';
import { post } from '../data/api';
import type { Arrivals } from '../data/queries';
import { Key } from '../parts/button';
import { useKey } from '../parts/keys';
import { ErrorAlert } from '../parts/page';
import { say } from '@/messages';

type Medium = Arrivals['media'][number];

const KEYS: Record<ConditionMark, string> = {
  mould: 'm',
  shedding: 'h',
  warped: 'w',
  'dye-faded': 'd',
  'layer-clouded': 'l',
  scratches: 's',
};

export function RiskBar({ medium }: { medium: Pick<Medium, 'marks' | 'treatFirst'> }) {
  const risk = riskOf(medium.marks, medium.treatFirst);
  return (
    <svg
      width="46"
      height="12"
      role="img"
      aria-label={say.media.riskOf({ risk, maxRisk: MAX_RISK })}
    >
      {Array.from({ length: MAX_RISK }, (_, i) => (
        <rect
          key={i}
          x={i * 9}
          width="7"
          height="12"
          fill={i < risk ? 'var(--grade-mended)' : 'var(--sunk)'}
        />
      ))}
    </svg>
  );
}

interface MarkProps {
  on: boolean;
  hotkey: string;
  onToggle: () => void;
  children: string;
}

function Mark({ on, hotkey, onToggle, children }: MarkProps) {
  useKey(hotkey, onToggle);
  return (
    <button
      type="button"
      aria-pressed={on}
      aria-keyshortcuts={hotkey}
      onClick={onToggle}
      className={
        'flex items-center gap-2 rounded-full border border-line bg-sheet px-3 py-1 ' +
        'text-[13px] aria-pressed:border-oxide aria-pressed:bg-oxide-wash ' +
        'aria-pressed:font-[650]'
      }
    >
      {children}
      <Key hotkey={hotkey} />
    </button>
  );
}

const sideAfter = (side: Medium['recordedSide']) =>
  RECORDED_SIDES[(RECORDED_SIDES.indexOf(side) + 1) % RECORDED_SIDES.length];

export function ConditionStrip({ medium, onSay }: { medium: Medium; onSay: () => void }) {
  const judge = useMutation({
    mutationFn: (change: object) => post(`/api/media/${encodeURIComponent(medium.code)}`, change),
    onMutate: onSay,
  });
  const toggle = (mark: ConditionMark) =>
    judge.mutate({ marks: { [mark]: !medium.marks.includes(mark) } });
  return (
    <section
      aria-label={say.media.conditionOf({ code: medium.code })}
      data-testid="condition"
      className="sticky bottom-0 mt-4 border border-l-[7px] border-line border-l-oxide bg-sheet px-4 py-3"
    >
      <p className="mb-2 text-[13px] text-ink-2">
        {say.media.conditionOf2} <b className="font-mono text-ink">{medium.code}</b>
        {medium.condition && `: ${medium.condition}`}
      </p>
      <ConditionMarks medium={medium} toggle={toggle} judge={judge} />
      <ErrorAlert>{judge.error?.message}</ErrorAlert>
    </section>
  );
}

interface ConditionMarksProps {
  medium: Medium;
  toggle: (mark: ConditionMark) => void;
  judge: UseMutationResult<unknown, Error, object, void>;
}

function ConditionMarks({ medium, toggle, judge }: ConditionMarksProps) {
  return (
    <div className="flex flex-wrap gap-2">
      {CONDITION_MARKS.map((mark) => (
        <Mark
          key={mark}
          on={medium.marks.includes(mark)}
          hotkey={KEYS[mark]}
          onToggle={() => toggle(mark)}
        >
          {MARK_WORDS[mark]}
        </Mark>
      ))}
      <Mark
        on={medium.writeProtected}
        hotkey="p"
        onToggle={() => judge.mutate({ writeProtected: !medium.writeProtected })}
      >
        {say.media.writeProtected}
      </Mark>
      <Mark
        on={medium.recordedSide !== 'not-said'}
        hotkey="b"
        onToggle={() =>
          judge.mutate({
            recordedSide: sideAfter(medium.recordedSide),
          })
        }
      >
        {say.media.recorded({ sideWord: SIDE_WORDS[medium.recordedSide] })}
      </Mark>
      <Mark
        on={medium.treatFirst}
        hotkey="x"
        onToggle={() => judge.mutate({ treatFirst: !medium.treatFirst })}
      >
        {say.media.notToBeRead}
      </Mark>
    </div>
  );
}
