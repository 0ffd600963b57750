'use client';
/** Quick marks of the chosen medium's condition: one key each. */
import { useMutation } from '@tanstack/react-query';
import {
  CONDITION_MARKS,
  MARK_WORDS,
  MAX_RISK,
  RECORDED_SIDES,
  SIDE_WORDS,
  riskOf,
  type ConditionMark,
} from '@/core/condition';
import { post } from '../data/api';
import type { Arrivals } from '../data/queries';
import { Key } from '../parts/button';
import { useKey } from '../parts/keys';
import { ErrorAlert } from '../parts/page';

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
    <svg width="46" height="12" role="img" aria-label={`risk ${risk} of ${MAX_RISK}`}>
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

function Mark({
  on,
  hotkey,
  onToggle,
  children,
}: {
  on: boolean;
  hotkey: string;
  onToggle: () => void;
  children: string;
}) {
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

export function ConditionStrip({ medium, onSay }: { medium: Medium; onSay: () => void }) {
  const say = useMutation({
    mutationFn: (change: object) => post(`/api/media/${encodeURIComponent(medium.code)}`, change),
    onMutate: onSay,
  });
  const toggle = (mark: ConditionMark) =>
    say.mutate({ marks: { [mark]: !medium.marks.includes(mark) } });
  return (
    <section
      aria-label={`Condition of ${medium.code}`}
      data-testid="condition"
      className="sticky bottom-0 mt-4 border border-l-[7px] border-line border-l-oxide bg-sheet px-4 py-3"
    >
      <p className="mb-2 text-[13px] text-ink-2">
        Condition of <b className="font-mono text-ink">{medium.code}</b>
        {medium.condition && `: ${medium.condition}`}
      </p>
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
          onToggle={() => say.mutate({ writeProtected: !medium.writeProtected })}
        >
          write-protected
        </Mark>
        <Mark
          on={medium.recordedSide !== 'not-said'}
          hotkey="b"
          onToggle={() =>
            say.mutate({
              recordedSide:
                RECORDED_SIDES[
                  (RECORDED_SIDES.indexOf(medium.recordedSide) + 1) % RECORDED_SIDES.length
                ],
            })
          }
        >{`recorded: ${SIDE_WORDS[medium.recordedSide]}`}</Mark>
        <Mark
          on={medium.treatFirst}
          hotkey="x"
          onToggle={() => say.mutate({ treatFirst: !medium.treatFirst })}
        >
          not to be read before treatment
        </Mark>
      </div>
      <ErrorAlert>{say.error?.message}</ErrorAlert>
    </section>
  );
}
