/**
 * The head of every view: one plain sentence saying what is the case, with a line above it and
 * actions beside.
 */
import Link from 'next/link';
import type { ReactNode } from 'react';
import { say } from '@/messages';

export function PageHead({
  over,
  title,
  children,
}: {
  over?: ReactNode;
  title: ReactNode;
  children?: ReactNode;
}) {
  return (
    <header className="mb-4 flex items-end justify-between gap-6">
      <div className="min-w-0">
        {over && <p className="truncate text-[13px] text-ink-2">{over}</p>}
        <h1>{title}</h1>
      </div>
      {children && <div className="flex shrink-0 gap-2">{children}</div>}
    </header>
  );
}

/** Nothing to show, and what to do about it. */
export function EmptyState({ children }: { children: ReactNode }) {
  return (
    <p className="max-w-[60ch] border-l-4 border-line py-2 pl-4 text-[15px] text-ink-2">
      {children}
    </p>
  );
}

/** Something went wrong, in the words of the server. */
export function ErrorAlert({ children }: { children: ReactNode }) {
  return children ? (
    <p role="alert" className="my-2 border-l-4 border-oxide bg-oxide-wash px-3 py-2 text-[13px]">
      {children}
    </p>
  ) : null;
}

interface MediumRowProps {
  code: string;
  title: string;
  labelText: string;
  lender: string;
  lot: string;
  condition: string;
}

/** The identity of a medium, as it stands at the side of a page. */
export function MediumRow({ code, title, labelText, lender, lot, condition }: MediumRowProps) {
  return (
    <section
      aria-label={say.parts.medium}
      className="border border-l-[7px] border-line border-l-oxide bg-sheet px-3 py-2.5 text-[13px] text-ink-2"
    >
      <p className="font-mono text-[15px] font-[650] tracking-wide text-ink">{code}</p>
      <p className="text-[15px] font-[650] text-ink">{title}</p>
      {labelText && <p>{labelText}</p>}
      {(lender || lot) && (
        <p>
          {lender && say.parts.lender({ lender })}
          {lender && lot && ' · '}
          {lot && (
            <Link href={`/lots/${encodeURIComponent(lot)}`} className="hover:underline">
              {lot}
            </Link>
          )}
        </p>
      )}
      {condition && <p className="first-letter:uppercase">{condition}</p>}
    </section>
  );
}

const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });

export const onDay = (moment: string) => day.format(new Date(moment));

/** Time alone where it was today, with its day where it was not. */
export function when(moment: string): string {
  const date = new Date(moment);
  return date.toDateString() === new Date().toDateString()
    ? clock.format(date)
    : `${day.format(date)}, ${clock.format(date)}`;
}

/** Lines of the ledger as they stand beside something. */
export function EventList({
  lines,
}: {
  lines: readonly { id: number; at: string; what: string; who: string }[];
}) {
  if (lines.length === 0) return <p className="text-ink-2">{say.parts.nothingYet}</p>;
  return (
    <ol className="space-y-2 text-[13px]">
      {lines.map(({ id, at, what, who }) => (
        <li key={id} className="grid grid-cols-[44px_1fr] gap-1.5" title={who}>
          <time dateTime={at} suppressHydrationWarning className="text-ink-2">
            {when(at).split(', ').pop()}
          </time>
          <span>{what}</span>
        </li>
      ))}
    </ol>
  );
}
