'use client';
/**
 * The surface of a linear device, at any zoom: a canvas, with a cursor for the keyboard and a table
 * as its twin for screen readers.
 */
import { ChoiceButton } from '../parts/choice-button';
import {
  Dispatch,
  RefObject,
  SetStateAction,
  useEffect,
  useId,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
} from 'react';
import { grouped } from '../parts/grade';
import {
  bandScales,
  blockAt,
  extentAt,
  nextOdd,
  zoomedView,
  type BlockSurfaceSize,
  type BlockView,
  type PackedExtent,
} from './block-surface-layout';
import { coloursOf } from './surface-paint';
import { useChartFrame } from './use-chart-frame';
import { TwinTable } from './block-surface-table';
import { paint } from './block-surface-paint';
import { SHOWN, type Shown, type BlockSurfaceChartProps } from './block-surface-props';
import { amount } from '../parts/amount';
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

export function BlockSurfaceChart({
  extents,
  blocks,
  blockBytes,
  height,
  active = null,
  filesOn,
}: BlockSurfaceChartProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, scheme } = useChartFrame(canvas);
  const [view, setView] = useState<BlockView | null>(null);
  const [shown, setShown] = useState<Shown>('grade');
  const [cursor, setCursor] = useState<number | null>(null);
  const [asTable, setAsTable] = useState(false);
  const id = useId();
  const size = useMemo<BlockSurfaceSize>(
    () => ({ width, height, view: view ?? { from: 0, to: blocks } }),
    [width, height, view, blocks],
  );

  usePainting(canvas, width, size, extents, shown, scheme);

  const zoom = (factor: number, around = cursor ?? size.view.from) =>
    setView((was) => zoomedView(was ?? { from: 0, to: blocks }, factor, around, blocks));
  useWheelZoom(canvas, size, setView, blocks);

  const point = ({ clientX, clientY, currentTarget }: PointerEvent<HTMLCanvasElement>) => {
    const box = currentTarget.getBoundingClientRect();
    setCursor(blockAt(clientX - box.left, clientY - box.top, size));
  };
  const { span, bands, x, y } = bandScales(size);
  const goTo = (block: number) => {
    const to = Math.max(0, Math.min(blocks - 1, block));
    setCursor(to);
    if (view && (to < view.from || to >= view.to)) setView(zoomedView(view, 1, to, blocks));
  };
  const move = blockKeys(cursor, size, goTo, extents, span, zoom, setView, bands);

  const inView =
    cursor !== null && cursor >= size.view.from && cursor < size.view.to
      ? cursor - size.view.from
      : null;
  const extent = cursor === null ? null : extentAt(extents, cursor);
  const files =
    cursor !== null && filesOn ? filesOn(extent?.[0] ?? cursor, extent?.[1] ?? cursor + 1) : [];
  return (
    <figure>
      <BlockTools
        shown={shown}
        setShown={setShown}
        span={span}
        blockBytes={blockBytes}
        view={view}
        setView={setView}
        asTable={asTable}
        setAsTable={setAsTable}
      />
      <div className="relative mb-2" style={{ height }}>
        <canvas
          ref={canvas}
          tabIndex={0}
          role="img"
          aria-label={say.charts.surfaceOfTheDevice}
          aria-describedby={`${id}-cursor`}
          data-testid="block-surface"
          style={{ width: '100%', height }}
          onPointerMove={point}
          onPointerLeave={() => setCursor(null)}
          onClick={() =>
            cursor !== null &&
            zoom(1 / bands, cursor - ((cursor - size.view.from) % span) + span / 2)
          }
          onKeyDown={move}
          className="cursor-zoom-in"
        />
        {width > 0 &&
          Array.from({ length: bands }, (_, band) => (
            <span
              key={band}
              aria-hidden
              className="pointer-events-none absolute left-0 -translate-y-1/2 text-right text-[12px] text-ink-2"
              style={{ width: x.range()[0]! - 10, top: y(band)! + y.bandwidth() / 2 }}
            >
              {grouped(size.view.from + band * span)}
            </span>
          ))}
        {active !== null && active >= size.view.from && active < size.view.to && width > 0 && (
          <Mark at={active - size.view.from} span={span} x={x} y={y} className="bg-oxide" />
        )}
        {inView !== null && width > 0 && (
          <Mark at={inView} span={span} x={x} y={y} className="bg-ink" />
        )}
      </div>
      <BlockCursor id={id} cursor={cursor} extent={extent} files={files} />
      <TwinTable extents={extents} blocks={blocks} shown={asTable} filesOn={filesOn} />
    </figure>
  );
}

function usePainting(
  canvas: RefObject<HTMLCanvasElement | null>,
  width: number,
  size: BlockSurfaceSize,
  extents: readonly PackedExtent[],
  shown: Shown,
  scheme: string,
) {
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d', { alpha: false });
    if (!element || !context || width === 0) return;
    const frame = requestAnimationFrame(() => {
      const ratio = window.devicePixelRatio || 1;
      element.width = Math.round(size.width * ratio);
      element.height = Math.round(size.height * ratio);
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      paint(context, size, extents, shown, coloursOf(element));
    });
    return () => cancelAnimationFrame(frame);
  }, [canvas, extents, size, width, shown, scheme]);
}

function useWheelZoom(
  canvas: RefObject<HTMLCanvasElement | null>,
  size: BlockSurfaceSize,
  setView: Dispatch<SetStateAction<BlockView | null>>,
  blocks: number,
) {
  useEffect(() => {
    const element = canvas.current!;
    // Not through React, whose wheel events can't be kept from scrolling the page.
    const wheel = (event: WheelEvent) => {
      const block = event.ctrlKey ? blockAt(event.offsetX, event.offsetY, size) : null;
      if (block === null) return;
      event.preventDefault();
      setView(zoomedView(size.view, event.deltaY < 0 ? 0.6 : 1 / 0.6, block, blocks));
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [canvas, size, blocks, setView]);
}

function blockKeys(
  cursor: number | null,
  size: BlockSurfaceSize,
  goTo: (block: number) => void,
  extents: readonly PackedExtent[],
  span: number,
  zoom: (factor: number, around?: number) => void,
  setView: Dispatch<SetStateAction<BlockView | null>>,
  bands: number,
) {
  return (event: KeyboardEvent) => {
    const at = cursor ?? size.view.from;
    const keys: Record<string, () => void> = {
      ArrowRight: () => goTo(nextOdd(extents, at, true)?.[0] ?? at),
      ArrowLeft: () => goTo(nextOdd(extents, at, false)?.[0] ?? at),
      ArrowDown: () => goTo(at + span),
      ArrowUp: () => goTo(at - span),
      '+': () => zoom(0.25),
      '-': () => zoom(4),
      '0': () => setView(null),
      Enter: () => zoom(1 / bands, at - ((at - size.view.from) % span) + span / 2),
    };
    const act = keys[event.key];
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };
}

function BlockTools({
  shown,
  setShown,
  span,
  blockBytes,
  view,
  setView,
  asTable,
  setAsTable,
}: {
  shown: Shown;
  setShown: Dispatch<SetStateAction<'grade' | 'tries' | 'pace'>>;
  span: number;
  blockBytes: number;
  view: BlockView | null;
  setView: Dispatch<SetStateAction<BlockView | null>>;
  asTable: boolean;
  setAsTable: Dispatch<SetStateAction<boolean>>;
}) {
  return (
    <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-[13px]">
      <fieldset className="flex items-center gap-1">
        <legend className="sr-only">{say.charts.shownOnTheSurface}</legend>
        {(Object.keys(SHOWN) as Shown[]).map((each) => (
          <ChoiceButton key={each} isChosen={shown === each} onChoose={() => setShown(each)}>
            {SHOWN[each]}
          </ChoiceButton>
        ))}
      </fieldset>
      <span className="text-ink-2">
        {say.charts.aBandIsBlocks({ span: grouped(span), span2: amount(span * blockBytes) })}
      </span>
      <span className="ml-auto flex items-center gap-3 text-ink-2">
        {view && (
          <button type="button" onClick={() => setView(null)} className="text-oxide underline">
            {say.charts.wholeDevice}
          </button>
        )}
        <button
          type="button"
          aria-pressed={asTable}
          onClick={() => setAsTable(!asTable)}
          className="underline hover:text-ink"
        >
          {say.charts.asATable}
        </button>
      </span>
    </div>
  );
}

function BlockCursor({
  id,
  cursor,
  extent,
  files,
}: {
  id: string;
  cursor: number | null;
  extent: PackedExtent | null;
  files: string[];
}) {
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

/** A stroke over a band where a block lies. */
function Mark({
  at,
  span,
  x,
  y,
  className,
}: { at: number; span: number; className: string } & Pick<
  ReturnType<typeof bandScales>,
  'x' | 'y'
>) {
  const band = Math.floor(at / span);
  return (
    <span
      aria-hidden
      className={`pointer-events-none absolute w-[2px] ${className}`}
      style={{ left: x(at - band * span) - 1, top: y(band)! - 3, height: y.bandwidth() + 6 }}
    />
  );
}
