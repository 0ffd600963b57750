'use client';
/** How sure each place of the track is by the times of all its turns: the taller, the less sure. */
import { scaleLinear } from 'd3';
import { useMemo } from 'react';
import type { TrackWeights } from '@/core/reading/analysis/weigh-track';
import { say } from '@/messages';
import { GAP, MARGIN } from './ribbon-paint';

const HEIGHT = 54;
/** What is surer than this stands at the foot, in powers of ten. */
const SUREST = -6;
/**
 * Beyond one in a hundred a place is drawn darker: that a transition was moved on the medium, and so
 * alike in all turns, leaves one in a thousand anywhere.
 */
const UNSURE = -2;
/** Where lines are drawn, in powers of ten. */
const LINES = [-1, -3, -5];

interface DoubtStripProps {
  /** Null where there is nothing to weigh; undefined until it is known. */
  weights: TrackWeights | null | undefined;
  /** Why it could not be weighed. */
  trouble?: string | undefined;
  from: number;
  to: number;
  /** Of the ribbons above, their margin included. */
  width: number;
}

/** The columns in view as one outline, all of them or those alone that are not sure. */
function outlineOf(
  doubt: Float32Array,
  { from, to }: Pick<DoubtStripProps, 'from' | 'to'>,
  chart: number,
  least: number,
): string {
  const x = scaleLinear([from, to], [0, chart]);
  const y = scaleLinear([SUREST, 0], [HEIGHT, 1]).clamp(true);
  const first = Math.max(0, Math.floor(from * doubt.length));
  const last = Math.min(doubt.length, Math.ceil(to * doubt.length));
  let path = '';
  for (let column = first; column < last; column++) {
    const own = doubt[column]!;
    if (own < least) continue;
    const left = Math.max(0, x(column / doubt.length));
    const right = Math.min(chart, Math.max(left + 1, x((column + 1) / doubt.length)));
    path += `M${left.toFixed(1)} ${HEIGHT}V${y(own).toFixed(1)}H${right.toFixed(1)}V${HEIGHT}Z`;
  }
  return path;
}

function wordsFor({ weights }: Pick<DoubtStripProps, 'weights'>): string {
  if (weights === undefined) return say.loupe.weighingAllTurns;
  if (weights === null) return say.loupe.noWholeTurn;
  return say.loupe.howSureEachPlace({ turns: weights.turns.length });
}

export function DoubtStrip({ weights, trouble, from, to, width }: DoubtStripProps) {
  const chart = Math.max(0, width - MARGIN - GAP);
  const doubt = weights?.doubt;
  const [all, unsure] = useMemo(
    () =>
      doubt
        ? [SUREST, UNSURE].map((least) => outlineOf(doubt, { from, to }, chart, least))
        : ['', ''],
    [doubt, from, to, chart],
  );
  const y = scaleLinear([SUREST, 0], [HEIGHT, 1]);
  return (
    <figure className="mt-2" data-testid="doubt">
      <figcaption className="text-[13px] text-ink-2">
        {trouble ? say.loupe.notWeighed({ trouble }) : wordsFor({ weights })}
      </figcaption>
      {weights && (
        <svg
          width={width}
          height={HEIGHT + 1}
          role="img"
          aria-label={say.loupe.placesNotSure({ places: unsureOf(weights) })}
        >
          <rect width={chart} height={HEIGHT} fill="var(--sheet)" />
          {LINES.map((power) => (
            <g key={power}>
              <line x2={chart} y1={y(power)} y2={y(power)} stroke="var(--line)" />
              <text x={chart + GAP} y={y(power) + 4} fontSize="11" fill="var(--ink-2)">
                {say.loupe.oneIn({ power: -power })}
              </text>
            </g>
          ))}
          <path d={all} fill="var(--grade-mended)" />
          <path d={unsure} fill="var(--grade-doubtful)" />
        </svg>
      )}
    </figure>
  );
}

/** Stretches of the track that are not sure, side by side counted as one. */
function unsureOf({ doubt }: TrackWeights): number {
  return doubt.reduce(
    (count, own, i) => count + (own > UNSURE && !(i > 0 && doubt[i - 1]! > UNSURE) ? 1 : 0),
    0,
  );
}
