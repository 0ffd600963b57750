/** Grades as they look everywhere: told apart by lightness and pattern first. */
import { grouped } from '@/core/text/grouped';
import { GRADE_WORDS } from '@/messages/names';
import { GRADES, type Grade, type Tally } from '@/core/reading/grades';

export function GradeSwatch({ grade, size = 13 }: { grade: Grade; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 13 13" aria-hidden className="shrink-0">
      {grade === 'firm' && <rect width="13" height="13" fill="var(--grade-firm)" />}
      {grade === 'mended' && <path d="M0 13V5L5 0H13V13Z" fill="var(--grade-mended)" />}
      {grade === 'doubtful' && <DoubtfulSwatch />}
      {grade === 'lost' && <LostSwatch />}
      {grade === 'unread' && (
        <rect
          x="0.5"
          y="0.5"
          width="12"
          height="12"
          fill="none"
          stroke="var(--ink-3)"
          strokeDasharray="2 2"
        />
      )}
    </svg>
  );
}

function DoubtfulSwatch(): import('react').ReactNode {
  return (
    <>
      <rect x="0.5" y="0.5" width="12" height="12" fill="none" stroke="var(--grade-doubtful)" />
      <path
        d="M0 4 4 0M0 9 9 0M1 12.5 12.5 1M5 13 13 5M10 13 13 10"
        stroke="var(--grade-doubtful)"
        strokeWidth="1.6"
      />
    </>
  );
}

function LostSwatch(): import('react').ReactNode {
  return (
    <>
      <rect
        x="0.75"
        y="0.75"
        width="11.5"
        height="11.5"
        fill="none"
        stroke="var(--grade-lost)"
        strokeWidth="1.5"
      />
      <rect y="5.5" width="13" height="2" fill="var(--grade-lost)" />
    </>
  );
}

/** How many sectors have each grade. */
interface TallyRowProps {
  tally: Tally;
  large?: boolean;
  className?: string;
}

export function TallyRow({ tally, large = false, className = '' }: TallyRowProps) {
  return (
    <dl className={`flex ${large ? 'gap-6' : 'gap-4'} ${className}`} data-testid="tally">
      {GRADES.map((grade) => (
        <div
          key={grade}
          className="flex flex-col-reverse"
          data-grade={grade}
          data-count={tally[grade]}
        >
          <dt className="flex items-center gap-1.5 text-[13px] text-ink-2">
            <GradeSwatch grade={grade} />
            {GRADE_WORDS[grade]}
          </dt>
          <dd className={large ? 'text-[24px] font-[650] leading-7' : 'text-[15px] font-[650]'}>
            {grouped(tally[grade])}
          </dd>
        </div>
      ))}
    </dl>
  );
}
