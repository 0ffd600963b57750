'use client';
/** A report for whoever lent a lot, as a page: to be read here, printed, or saved as PDF. */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { say } from '@/messages';
import type { SheetBlock } from '@/server/platform/pdf/sheet';
import { recordPageOf } from '../data/addresses';
import { lotReportQuery } from '../data/paper-queries';
import { TermLine, TERMS } from '../descriptions/term-line';
import { PageHead } from '../parts/page';

export function ReportView({ name }: { name: string }) {
  const { data } = useQuery(lotReportQuery(name));
  if (!data) return <h1>{name}</h1>;
  return (
    <article className="on-paper max-w-[860px] pb-6">
      <PageHead
        over={
          <>
            <Link href={recordPageOf('lots', name)} className="underline print:hidden">
              {say.receipts.toTheLot}
            </Link>
            <span className="print:hidden"> · </span>
            {data.over}
          </>
        }
        title={data.head}
      >
        <a
          href={`/api/lots/${encodeURIComponent(name)}/report?as=pdf`}
          className="self-center text-[13px] font-[650] text-oxide underline print:hidden"
        >
          {say.receipts.asPdf}
        </a>
      </PageHead>
      {data.blocks.map((block, i) => (
        <Block key={i} block={block} />
      ))}
    </article>
  );
}

/** A report has texts, headings and facts. */
function Block({ block }: { block: SheetBlock }) {
  switch (block.kind) {
    case 'text':
      return <p className="mb-3">{block.text}</p>;
    case 'heading':
      return <h2 className="mb-1 mt-6 break-after-avoid text-[18px]">{block.text}</h2>;
    case 'facts':
      return (
        <dl className={TERMS}>
          {block.facts.map(([term, text], i) => (
            <TermLine key={i} term={term} values={[text]} />
          ))}
        </dl>
      );
    default:
      return null;
  }
}
