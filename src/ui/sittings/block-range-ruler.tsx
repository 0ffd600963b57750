'use client';
/**
 * How far to read a device: one ruler with the landmarks of its own tables, and a from–to in
 * blocks, with bytes as it moves.
 */
import { useMutation } from '@tanstack/react-query';
import { scaleLinear } from 'd3';
import { Slider } from 'radix-ui';
import { Dispatch, SetStateAction, useState } from 'react';
import { amount } from '@/core/text/amount';
import { post } from '../data/api';
import type { Sitting } from '../data/queries';
import { grouped } from '@/core/text/grouped';
import { ErrorAlert } from '../parts/page';
import { LandmarkButtons, LandmarkTicks, RangeFoot } from './range-parts';
import { say } from '@/messages';

/** Steps of the slider: a device of millions of blocks is set by landmark or by figures. */
const STEPS = 1000;

export function BlockRangeRuler({ sitting }: { sitting: Sitting }) {
  const { id, station } = sitting;
  const { device, preview } = sitting.blocks!;
  const { blocks, blockBytes } = device;
  const [range, setRange] = useState({ from: 0, to: preview!.to });
  const go = useMutation({
    mutationFn: () => post(`/api/sittings/${id}`, { requestedAction: 'read-blocks', range }),
  });
  const step = Math.max(1, Math.ceil(blocks / STEPS));
  const x = scaleLinear([0, blocks], [0, 100]);
  const field = 'w-[130px] border border-line bg-ground px-2 py-0.5 text-right text-[14px]';
  const typed = (text: string) =>
    Math.max(0, Math.min(blocks, Number(text.replace(/\D/g, '')) || 0));
  return (
    <section
      aria-label={say.sittings.howFarToRead}
      data-testid="block-range"
      className="mb-4 border border-l-[7px] border-line border-l-ochre bg-sheet px-4 py-3"
    >
      <BlockFields
        field={field}
        range={range}
        setRange={setRange}
        typed={typed}
        blockBytes={blockBytes}
        blocks={blocks}
      />
      <BlockSlider blocks={blocks} step={step} range={range} setRange={setRange} />
      <LandmarkTicks landmarks={preview!.landmarks} x={x} />
      <LandmarkButtons
        landmarks={preview!.landmarks}
        to={range.to}
        onChoose={(to) => setRange((was) => ({ from: Math.min(was.from, to - 1), to }))}
        nameOf={(name, to) => `${name}, ${amount(to * blockBytes)}`}
      />
      <RangeFoot
        station={station}
        isOff={go.isPending || range.from >= range.to}
        onGo={() => go.mutate()}
      />
      <ErrorAlert>{go.error?.message}</ErrorAlert>
    </section>
  );
}

interface BlockFieldsProps {
  field: string;
  range: { from: number; to: number };
  setRange: Dispatch<SetStateAction<{ from: number; to: number }>>;
  typed: (text: string) => number;
  blockBytes: number;
  blocks: number;
}

function BlockFields({ field, range, setRange, typed, blockBytes, blocks }: BlockFieldsProps) {
  return (
    <div className="mb-1 flex flex-wrap items-center gap-3 text-[13px]">
      <label className="flex items-center gap-1.5">
        {say.sittings.fromBlock}{' '}
        <input
          className={field}
          inputMode="numeric"
          value={range.from}
          onChange={({ target }) => setRange((was) => ({ ...was, from: typed(target.value) }))}
        />
      </label>
      <label className="flex items-center gap-1.5">
        {say.sittings.upTo}{' '}
        <input
          className={field}
          inputMode="numeric"
          value={range.to}
          onChange={({ target }) => setRange((was) => ({ ...was, to: typed(target.value) }))}
        />
      </label>
      <span>
        <b>{grouped(Math.max(0, range.to - range.from))}</b> {say.sittings.blocks}{' '}
        <b>{amount(Math.max(0, range.to - range.from) * blockBytes)}</b>{' '}
        {say.sittings.of({ blocks: amount(blocks * blockBytes) })}
      </span>
    </div>
  );
}

interface BlockSliderProps {
  blocks: number;
  step: number;
  range: { from: number; to: number };
  setRange: Dispatch<SetStateAction<{ from: number; to: number }>>;
}

function BlockSlider({ blocks, step, range, setRange }: BlockSliderProps) {
  return (
    <Slider.Root
      min={0}
      max={blocks}
      step={step}
      value={[Math.min(range.from, range.to), Math.max(range.from, range.to)]}
      onValueChange={([from, to]) =>
        setRange({ from: from!, to: to! + step > blocks ? blocks : to! })
      }
      className="relative flex h-6 w-full touch-none items-center"
      aria-label={say.sittings.blocksToRead}
    >
      <Slider.Track className="relative h-2 flex-1 bg-sunk">
        <Slider.Range className="absolute h-full bg-oxide" />
      </Slider.Track>
      {[say.sittings.from, say.sittings.upTo2].map((name) => (
        <Slider.Thumb
          key={name}
          aria-label={name}
          className="block h-5 w-2.5 border border-ink bg-ground"
        />
      ))}
    </Slider.Root>
  );
}
