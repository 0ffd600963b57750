/** What is known of something, a term and its values a line. */

import Link from 'next/link';

/** The look of a list of them. */
export const TERMS = 'grid max-w-[900px] grid-cols-[170px_1fr] gap-y-1 text-[14px]';

interface TermLineProps {
  term: string;
  values: readonly string[];
  /** Where a page of what it names is. */
  href?: string | null;
  /** Where it is said, where that is elsewhere. */
  whose?: string | null;
}

export function TermLine({ term, values, href = null, whose = null }: TermLineProps) {
  return (
    <div className="contents">
      <dt className="text-ink-2 first-letter:uppercase">{term}</dt>
      <dd className="min-w-0">
        {values.map((value) => (
          <p key={value} className="break-words whitespace-pre-line">
            {href ? (
              <Link href={href} className="underline">
                {value}
              </Link>
            ) : (
              value
            )}
          </p>
        ))}
        {whose && <p className="text-[12px] text-ink-2">{whose}</p>}
      </dd>
    </div>
  );
}
