'use client';
/** The surface of a linear device as a table, and a sitting in one line. */
import { GRADE_WORDS } from '@/messages/names';
import { grouped } from '@/core/text/grouped';
import { type PackedExtent } from './block-surface-layout';
import type { BlockSurfaceChartProps } from './block-surface-props';
import { say } from '@/messages';

const LISTED = 200;

interface TwinTableProps {
  extents: readonly PackedExtent[];
  blocks: number;
  shown: boolean;
  filesOn?: BlockSurfaceChartProps['filesOn'];
}

/** The chart as a table: every stretch that is not firm, with the files on it. */
export function TwinTable({ extents, blocks, shown, filesOn }: TwinTableProps) {
  const odd = extents.filter(([, , grade]) => grade !== 'firm');
  return (
    <div
      tabIndex={shown ? 0 : undefined}
      role="group"
      aria-label={say.charts.surfaceAsATable}
      className={shown ? 'mt-2 max-h-[320px] overflow-auto border border-line' : 'sr-only'}
    >
      <table className="w-full border-collapse text-[13px]" data-testid="block-table">
        <TableCaption blocks={blocks} odd={odd} />
        <TableHead />
        <tbody>
          {odd.slice(0, LISTED).map(([from, to, grade, tries]) => (
            <tr key={from} className="border-b border-line">
              <td className="px-2 text-right">{grouped(from)}</td>
              <td className="px-2 text-right">{grouped(to - from)}</td>
              <td>{GRADE_WORDS[grade]}</td>
              <td className="px-2 text-right">{tries}</td>
              <td>{(filesOn?.(from, to) ?? []).join(', ')}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function TableCaption({ blocks, odd }: { blocks: number; odd: PackedExtent[] }) {
  return (
    <caption className="px-2 py-1 text-left text-ink-2">
      {say.charts.blocks({
        blocks: grouped(blocks),
        oddPart:
          odd.length === 0
            ? say.charts.allThatWereRead
            : say.charts.stretchesNotFirm({
                odd: odd.length,
                oddPart: odd.length > LISTED ? say.charts.theFirstOfThem({ listed: LISTED }) : '',
              }),
      })}
    </caption>
  );
}

function TableHead() {
  return (
    <thead>
      <tr className="border-b border-line">
        <th className="px-2 text-right">{say.charts.fromBlock}</th>
        <th className="px-2 text-right">{say.charts.blocks2}</th>
        <th>{say.charts.grade}</th>
        <th className="px-2 text-right">{say.charts.asked2}</th>
        <th>{say.charts.filesOnIt}</th>
      </tr>
    </thead>
  );
}

interface BlockSurfaceLineProps {
  extents: readonly PackedExtent[];
  blocks: number;
}

/** The extents of a sitting in one line. */
export function BlockSurfaceLine({ extents, blocks }: BlockSurfaceLineProps) {
  return (
    <svg viewBox={`0 0 ${blocks} 12`} preserveAspectRatio="none" className="h-3 w-full" aria-hidden>
      <line
        x1="0"
        x2={blocks}
        y1="6"
        y2="6"
        stroke="#5d554b"
        vectorEffect="non-scaling-stroke"
        strokeDasharray="1 2"
      />
      {extents.map(([from, to, grade]) => {
        const bad = grade === 'doubtful' || grade === 'lost';
        const least = blocks / 150;
        return (
          <rect
            key={from}
            x={from}
            width={bad ? Math.max(least, to - from) : to - from}
            y={bad ? 0 : 3}
            height={bad ? 12 : 6}
            fill={bad ? '#c596bf' : '#d8cdbd'}
          />
        );
      })}
    </svg>
  );
}
