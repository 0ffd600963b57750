/** The second store: where it lies, how much of the house is in it, when it was read, what is wrong. */
import Link from 'next/link';
import { grouped } from '@/core/text/grouped';
import { say } from '@/messages';
import { docketPage } from '../data/addresses';
import type { FixityState } from '../data/queries';
import { when } from '../parts/page';
import { FigureRow } from './figure';

type Second = FixityState['second'];

export function SecondStore({ second }: { second: Second }) {
  return (
    <section className="mt-8" aria-labelledby="second-store" data-testid="second-store">
      <h2 id="second-store" className="mb-1 text-[19px]">
        {say.fixity.secondStore}
      </h2>
      {second ? (
        <Kept second={second} />
      ) : (
        <p className="max-w-[75ch]">{say.fixity.noSecondStore}</p>
      )}
    </section>
  );
}

const NOT_REACHED = { away: say.fixity.isNotReached, anothers: say.fixity.isOfAnother };

function Kept({ second }: { second: NonNullable<Second> }) {
  const { folder, state, troubles } = second;
  return (
    <>
      {state === 'reached' ? (
        <p className="mb-3 max-w-[75ch] text-[14px] wrap-anywhere">
          {say.fixity.liesIn({ folder })}
        </p>
      ) : (
        <p
          role="alert"
          className="mb-3 max-w-[75ch] border-l-4 border-oxide bg-oxide-wash px-3 py-1.5"
        >
          {NOT_REACHED[state]({ folder })}
        </p>
      )}
      <Figures second={second} />
      {troubles.length > 0 && <Troubles troubles={troubles} />}
    </>
  );
}

function Figures({ second }: { second: NonNullable<Second> }) {
  const { media, objects, behind, bytes, written, oldest } = second;
  const rows = [
    [say.fixity.mediaInIt, say.fixity.ofAll({ objects, media })],
    [say.fixity.behind, behind > 0 ? grouped(behind) : say.fixity.none],
    [say.fixity.size, say.fixity.held({ bytes })],
    [say.fixity.writtenLast, written ? when(written) : say.fixity.none],
    [say.fixity.readBack, oldest ? when(oldest) : say.fixity.none],
  ] as const;
  return <FigureRow rows={rows} />;
}

function Troubles({ troubles }: { troubles: NonNullable<Second>['troubles'] }) {
  return (
    <ul className="text-[14px]">
      {troubles.map(({ id, code, trouble }) => (
        <li key={id} className="border-b border-line py-1.5 pl-3 [&]:border-l-4 [&]:border-l-oxide">
          {code && (
            <Link href={docketPage(code)} className="mr-2 font-mono underline">
              {code}
            </Link>
          )}
          {trouble}
        </li>
      ))}
    </ul>
  );
}
