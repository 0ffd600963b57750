'use client';
/**
 * How far to read: one ruler with landmarks, and a from–to in the drive's own steps, with sectors
 * and bytes as it moves.
 */
import { useMutation, useQuery } from '@tanstack/react-query';
import { scaleLinear } from 'd3';
import { Slider } from 'radix-ui';
import { Dispatch, SetStateAction, useState } from 'react';
import { formatAt, trackBytes, type Layout } from '@/core/layout/layout';
import { tracksOfRange, type Range } from '@/core/reading/plan/plan';
import { post } from '../data/api';
import { layoutQuery, type Sitting } from '../data/queries';
import { grouped } from '@/core/text/grouped';
import { ErrorAlert } from '../parts/page';
import { LandmarkButtons, LandmarkTicks, RangeFoot } from './range-parts';
import { say } from '@/messages';

/** Sectors and bytes of a range, by the layout where one is known. */
function amount(range: Range, layout: Layout | undefined): string {
  const tracks = tracksOfRange(range);
  if (!layout) return say.sittings.tracks({ tracks: grouped(tracks.length) });
  let sectors = 0;
  let bytes = 0;
  for (const { cylinder, head } of tracks) {
    const format = formatAt(layout, cylinder / range.step, head);
    if (!format) continue;
    sectors += format.sectors.length;
    bytes += trackBytes(format);
  }
  return say.sittings.tracksSectorsBytes({
    tracks: grouped(tracks.length),
    sectors: grouped(sectors),
    bytes: grouped(bytes),
  });
}

export function RangeRuler({ sitting }: { sitting: Sitting }) {
  const { id, station } = sitting;
  const preview = sitting.preview!;
  const last = Math.max(...preview.landmarks.map(({ to }) => to));
  const [range, setRange] = useState<Range>({
    ...preview.range,
    step: preview.range.step as 1 | 2,
  });
  const { data: layout } = useQuery({
    ...layoutQuery(preview.layout ?? ''),
    enabled: preview.layout !== null,
  });
  const go = useMutation({
    mutationFn: () => post(`/api/sittings/${id}`, { requestedAction: 'read', range }),
  });
  const x = scaleLinear([0, Math.max(1, last)], [0, 100]);
  const toggleHead = (head: number) =>
    setRange((was) => ({
      ...was,
      heads: was.heads.includes(head)
        ? was.heads.length > 1
          ? was.heads.filter((each) => each !== head)
          : was.heads
        : [...was.heads, head].sort(),
    }));
  return (
    <section
      aria-label={say.sittings.howFarToRead}
      data-testid="range"
      className="mb-4 border border-l-[7px] border-line border-l-ochre bg-sheet px-4 py-3"
    >
      <RangeSaid range={range} layout={layout} toggleHead={toggleHead} />
      <CylinderSlider last={last} range={range} setRange={setRange} />
      <LandmarkTicks landmarks={preview.landmarks} x={x} />
      <LandmarkButtons
        landmarks={preview.landmarks}
        to={range.to}
        onChoose={(to) => setRange((was) => ({ ...was, to }))}
        nameOf={(name, to) => say.sittings.to3({ name, to })}
      />
      <RangeFoot station={station} isOff={go.isPending} onGo={() => go.mutate()} />
      <ErrorAlert>{go.error?.message}</ErrorAlert>
    </section>
  );
}

interface RangeSaidProps {
  range: Range;
  layout: Layout | undefined;
  toggleHead: (head: number) => void;
}

function RangeSaid({ range, layout, toggleHead }: RangeSaidProps) {
  return (
    <div className="mb-1 flex items-center justify-between gap-4 text-[13px]">
      <p>
        {say.sittings.from} <b>{range.from}</b> {say.sittings.to} <b>{range.to}</b>
        {range.step === 2 && say.sittings.everySecondStep},{' '}
        {range.heads.length === 2
          ? say.sittings.bothHeads
          : say.sittings.head({ head: range.heads[0] })}
        : <b>{amount(range, layout)}</b>
      </p>
      <span className="flex gap-3">
        {[0, 1].map((head) => (
          <label key={head} className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={range.heads.includes(head)}
              onChange={() => toggleHead(head)}
              className="size-4"
            />
            {say.sittings.head2({ head })}
          </label>
        ))}
      </span>
    </div>
  );
}

interface CylinderSliderProps {
  last: number;
  range: Range;
  setRange: Dispatch<SetStateAction<Range>>;
}

function CylinderSlider({ last, range, setRange }: CylinderSliderProps) {
  return (
    <Slider.Root
      min={0}
      max={last}
      step={range.step}
      value={[range.from, range.to]}
      onValueChange={([from, to]) => setRange((was) => ({ ...was, from: from!, to: to! }))}
      className="relative flex h-6 w-full touch-none items-center"
      aria-label={say.sittings.cylindersToRead}
    >
      <Slider.Track className="relative h-2 flex-1 bg-sunk">
        <Slider.Range className="absolute h-full bg-oxide" />
      </Slider.Track>
      {[say.sittings.from, say.sittings.to2].map((name) => (
        <Slider.Thumb
          key={name}
          aria-label={name}
          className="block h-5 w-2.5 border border-ink bg-ground"
        />
      ))}
    </Slider.Root>
  );
}
