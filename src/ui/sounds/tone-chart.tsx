'use client';
/** What is heard now by its frequencies, and how loud it is; silent it is empty. */
import { useEffect, useRef, useState } from 'react';
import { say } from '@/messages';
import type { Player } from './player';

const LOWEST_HZ = 40;
const LOWEST_DB = -100;
/** Times a second that the level is told in figures. */
const LEVEL_MS = 100;

const colour = (canvas: HTMLCanvasElement, name: string): string =>
  getComputedStyle(canvas).getPropertyValue(name);

/** Columns of equal parts of an octave, each as high as its loudest. */
function paint(canvas: HTMLCanvasElement, analyser: AnalyserNode, loudness: Float32Array): void {
  const [width, height] = [canvas.clientWidth, canvas.clientHeight];
  canvas.width = width;
  canvas.height = height;
  const pen = canvas.getContext('2d')!;
  pen.fillStyle = colour(canvas, '--grade-mended');
  analyser.getFloatFrequencyData(loudness as Float32Array<ArrayBuffer>);
  const highest = analyser.context.sampleRate / 2;
  const binAt = (share: number) =>
    (LOWEST_HZ * (highest / LOWEST_HZ) ** share * loudness.length) / highest;
  for (let column = 0; column < width; column += 3) {
    const from = Math.floor(binAt(column / width));
    const to = Math.max(from + 1, Math.floor(binAt((column + 3) / width)));
    let most = LOWEST_DB;
    for (let bin = from; bin < Math.min(to, loudness.length); bin++)
      most = Math.max(most, loudness[bin]!);
    const tall = (1 - most / LOWEST_DB) * height;
    pen.fillRect(column, height - tall, 2, tall);
  }
}

export function ToneChart({ player }: { player: Player }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    let asked = 0;
    let loudness = new Float32Array();
    const draw = () => {
      asked = requestAnimationFrame(draw);
      const { analyser } = player;
      if (!analyser || !canvas.current) return;
      if (loudness.length !== analyser.frequencyBinCount)
        loudness = new Float32Array(analyser.frequencyBinCount);
      paint(canvas.current, analyser, loudness);
    };
    draw();
    return () => cancelAnimationFrame(asked);
  }, [player]);
  return (
    <figure className="min-w-[280px] flex-1">
      <canvas
        ref={canvas}
        className="block h-[72px] w-full border border-line bg-sheet"
        role="img"
        aria-label={say.sounds.frequencies}
      />
      <figcaption className="flex justify-between text-[11px] text-ink-2">
        <span>{say.sounds.fromHz({ hertz: LOWEST_HZ })}</span>
        <Level player={player} />
        <span>{say.sounds.toHalfTheRate}</span>
      </figcaption>
    </figure>
  );
}

function Level({ player }: { player: Player }) {
  const [level, setLevel] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => setLevel(player.level()), LEVEL_MS);
    return () => clearInterval(timer);
  }, [player]);
  const decibels = level > 0 ? 20 * Math.log10(level) : -Infinity;
  return (
    <span data-testid="level" data-level={level.toFixed(5)}>
      {decibels > LOWEST_DB
        ? say.sounds.level({ decibels: decibels.toFixed(1) })
        : say.sounds.silent}
    </span>
  );
}
