'use client';
/** Labels to print: a short code of our own as Code 128 and in letters, with what the medium is. */
import JsBarcode from 'jsbarcode';
import { useEffect, useRef } from 'react';
import { SCAN_MARK } from '../frame/scanner';
import { Button } from '../parts/button';
import { EmptyState, PageHead } from '../parts/page';

interface LabelledMedium {
  code: string;
  title: string;
  lot: string;
  form: string;
  setName: string;
  setNumber: number | null;
}

function Barcode({ code }: { code: string }) {
  const svg = useRef<SVGSVGElement>(null);
  useEffect(() => {
    JsBarcode(svg.current, `${SCAN_MARK}${code}`, {
      format: 'CODE128',
      displayValue: false,
      height: 38,
      width: 1.5,
      margin: 0,
      lineColor: '#000',
      background: '#fff',
    });
  }, [code]);
  return <svg ref={svg} role="img" aria-label={`Code 128: ${SCAN_MARK}${code}`} data-code={code} />;
}

export function LabelSheet({ media }: { media: readonly LabelledMedium[] }) {
  return (
    <div className="label-sheet">
      <div className="print:hidden">
        <PageHead
          over="62 × 29 mm each; a scanner types what they say"
          title={
            media.length === 0
              ? 'No labels chosen'
              : `${media.length} ${media.length === 1 ? 'label' : 'labels'} to print`
          }
        >
          <Button
            tone="primary"
            hotkey="p"
            disabled={media.length === 0}
            onClick={() => window.print()}
          >
            Print
          </Button>
        </PageHead>
        {media.length === 0 && (
          <EmptyState>
            Choose a medium in Arrivals and press L, or print the labels of all that are shown
            there.
          </EmptyState>
        )}
      </div>
      <div className="flex flex-wrap gap-[3mm] bg-white p-[3mm] text-black print:p-0">
        {media.map(({ code, title, lot, setName, setNumber }) => (
          <div
            key={code}
            className={
              'flex h-[29mm] w-[62mm] break-inside-avoid flex-col justify-between overflow-hidden ' +
              'border border-dashed border-[#999] p-[2mm] print:border-0'
            }
          >
            <p className="line-clamp-2 text-[9.5pt] leading-[1.15]">{title}</p>
            <Barcode code={code} />
            <p className="flex justify-between text-[8pt]">
              <b className="font-mono text-[11pt]">{code}</b>
              <span className="truncate pl-2">
                {setName ? `${setName}${setNumber ? ` ${setNumber}` : ''}` : lot}
              </span>
            </p>
          </div>
        ))}
      </div>
    </div>
  );
}
