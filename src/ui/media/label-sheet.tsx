'use client';
/** Labels to print: a short code of our own as Code 128 and in letters, with what the medium is. */
import JsBarcode from 'jsbarcode';
import { useEffect, useRef } from 'react';
import { SCAN_MARK } from '../frame/scanner';
import { Button } from '../parts/button';
import { EmptyState, PageHead } from '../parts/page';
import { say } from '@/messages';

interface LabelledMedium {
  code: string;
  title: string;
  lot: string;
  form: string;
  setName: string;
  setNumber: number | null;
}

/** Longer ones have bars finer than 0.19 mm on a label of 62 mm, which not every scanner reads. */
const LONG_CODE_CHARACTERS = 24;

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
  return (
    <svg
      ref={svg}
      role="img"
      // Bars that would reach past the label are made narrower, all of them alike.
      preserveAspectRatio="none"
      className="h-[10mm] max-w-full"
      aria-label={say.media.code128({ scanMark: SCAN_MARK, code })}
      data-code={code}
    />
  );
}

export function LabelSheet({ media }: { media: readonly LabelledMedium[] }) {
  const long = media.filter(({ code }) => code.length > LONG_CODE_CHARACTERS);
  return (
    <div className="on-paper">
      <div className="print:hidden">
        <PageHead over={say.media.n6229Mm} title={say.media.text({ media: media.length })}>
          <Button
            tone="primary"
            hotkey="p"
            disabled={media.length === 0}
            onClick={() => window.print()}
          >
            {say.media.print}
          </Button>
        </PageHead>
        {long.length > 0 && (
          <p role="note" className="mb-3 max-w-[620px]">
            {say.media.fineBars({ codes: long.map(({ code }) => code).join(', ') })}
          </p>
        )}
        {media.length === 0 && <EmptyState>{say.media.chooseAMediumIn}</EmptyState>}
      </div>
      <div className="flex flex-wrap gap-[3mm] bg-white p-[3mm] text-black print:p-0">
        {media.map(({ code, title, lot, setName, setNumber }) => (
          <Label
            key={code}
            title={title}
            code={code}
            setName={setName}
            setNumber={setNumber}
            lot={lot}
          />
        ))}
      </div>
    </div>
  );
}

interface LabelProps {
  title: string;
  code: string;
  setName: string;
  setNumber: number | null;
  lot: string;
}

function Label({ title, code, setName, setNumber, lot }: LabelProps) {
  return (
    <div
      className={
        'flex h-[29mm] w-[62mm] break-inside-avoid flex-col justify-between overflow-hidden ' +
        'border border-dashed border-[#999] p-[2mm] print:border-0'
      }
    >
      <p className="line-clamp-2 text-[9.5pt] leading-[1.15]">{title}</p>
      <Barcode code={code} />
      <p className="flex justify-between text-[8pt]">
        <b className={`font-mono ${code.length > 16 ? 'text-[7pt]' : 'text-[11pt]'}`}>{code}</b>
        <span className="truncate pl-2">
          {setName ? `${setName}${setNumber ? ` ${setNumber}` : ''}` : lot}
        </span>
      </p>
    </div>
  );
}
