/** What would change, medium by medium, with what it was; and what stands against it. */
import { Fragment } from 'react';
import Link from 'next/link';
import { grouped } from '@/core/text/grouped';
import { say } from '@/messages';
import type { CorrectionsShown } from '../../data/queries';
import { Button } from '../../parts/button';
import { ErrorAlert } from '../../parts/page';
import { docketPage } from '../../data/addresses';

interface CorrectionPreviewProps {
  shown: CorrectionsShown;
  isBusy: boolean;
  trouble: string | undefined;
  correct(): void;
}

/** Rows that are drawn; the rest is counted. */
const MOST_SHOWN = 300;

export function CorrectionPreview({ shown, isBusy, trouble, correct }: CorrectionPreviewProps) {
  const wrong = shown.media.filter((each) => each.trouble !== null);
  const changing = shown.media.filter(({ changes }) => changes.length > 0);
  const rows = [...wrong, ...changing.filter((each) => each.trouble === null)];
  return (
    <section aria-label={say.correct.whatWouldChange} className="mt-4">
      <div className="mb-2 flex items-center gap-4">
        <h2>{say.correct.mediaWouldChange({ count: changing.length, of: shown.media.length })}</h2>
        {wrong.length > 0 && (
          <p className="font-[650] text-oxide" role="alert">
            {say.correct.standAgainst({ count: wrong.length })}
          </p>
        )}
        <span className="ml-auto">
          <Button
            hotkey="c"
            tone="primary"
            disabled={isBusy || wrong.length > 0 || changing.length === 0}
            onClick={correct}
          >
            {say.correct.correctThem({ count: changing.length })}
          </Button>
        </span>
      </div>
      <ErrorAlert>{trouble}</ErrorAlert>
      {rows.length > 0 && (
        <table className="w-full border border-line bg-sheet text-[13px]" data-testid="changes">
          <tbody>
            {rows.slice(0, MOST_SHOWN).map((row) => (
              <PreviewRow key={row.code} row={row} />
            ))}
          </tbody>
        </table>
      )}
      {rows.length > MOST_SHOWN && (
        <p className="mt-1 text-[13px] text-ink-2">
          {say.correct.andMore({ count: grouped(rows.length - MOST_SHOWN) })}
        </p>
      )}
    </section>
  );
}

function PreviewRow({ row }: { row: CorrectionsShown['media'][number] }) {
  const { code, title, changes, trouble } = row;
  return (
    <tr className="border-b border-line align-top">
      <td className="whitespace-nowrap px-3 py-1 font-mono font-[650]">
        <Link href={docketPage(code)} className="underline">
          {code}
        </Link>
      </td>
      <td className="px-2 py-1 text-ink-2">{title}</td>
      <td className="px-2 py-1">
        {trouble && <p className="font-[650] text-oxide">{trouble}</p>}
        {changes.map(({ fact, was, now }) => (
          <Fragment key={fact}>
            <span className="text-ink-2">{say.correct.facts[fact]}: </span>
            <del>{was ?? say.correct.nothing}</del> → <b>{now ?? say.correct.nothing}</b>
            <br />
          </Fragment>
        ))}
      </td>
    </tr>
  );
}
