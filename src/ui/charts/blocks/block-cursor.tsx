'use client';
/** What lies under the cursor of a device's surface. */
import { grouped } from '@/core/text/grouped';
import { type PackedExtent } from './block-surface-layout';
import { say } from '@/messages';

const PACE_WORDS = [
  say.charts.asUsual,
  say.charts.eightTimesTheUsual,
  say.charts.sixtyFourTimesThe,
] as const;

const said = (extent: PackedExtent | null) =>
  extent
    ? say.charts.asked({
        extent: extent[2],
        extent2: extent[3],
        value: extent[4] > 0 ? `, ${PACE_WORDS[extent[4]]}` : '',
      })
    : say.charts.notReadYet;

interface BlockCursorProps {
  id: string;
  cursor: number | null;
  extent: PackedExtent | null;
  files: string[];
}

export function BlockCursor({ id, cursor, extent, files }: BlockCursorProps) {
  return (
    <figcaption
      id={`${id}-cursor`}
      aria-live="polite"
      className="mt-1 h-5 truncate text-[13px] text-ink-2"
    >
      {cursor !== null
        ? say.charts.block({
            cursor: grouped(cursor),
            extent: said(extent),
            extentPart:
              extent && extent[1] - extent[0] > 1
                ? say.charts.soAreFrom({
                    extent: grouped(extent[1] - extent[0]),
                    extent2: grouped(extent[0]),
                  })
                : '',
            filesPart:
              files.length > 0
                ? say.charts.text({
                    files: files.slice(0, 3).join(', '),
                    filesPart:
                      files.length > 3 ? say.charts.andMore({ files: files.length - 3 }) : '',
                  })
                : '',
          })
        : say.charts.pointAtAPlace}
    </figcaption>
  );
}
