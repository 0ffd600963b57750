'use client';
/** Where files, deleted files and doubt lie on a volume, from its first byte to its last. */
import type { DocketData } from '../data/queries';
import { grouped } from '@/core/text/grouped';
import { say } from '@/messages';

type Volume = DocketData['contents'][number];

/**
 * Share of a volume from which a piece is set apart from its neighbours by a line; the line would
 * hide a smaller one.
 */
const SEEN_APART = 0.004;
const FILLS = { file: 'var(--grade-mended)', doubt: 'url(#in-doubt)', deleted: 'none' } as const;

const share = (bytes: number, of: number) => `${(100 * bytes) / of}%`;

function strokeOf(state: keyof typeof FILLS, isLarge: boolean): string {
  if (state === 'deleted') return 'var(--verdigris)';
  return isLarge ? 'var(--ground)' : 'none';
}

export function SpacePicture({ volume }: { volume: Volume }) {
  const { space, length, inside, totalBytes, freeBytes } = volume;
  const label =
    inside === null
      ? say.copies.ofBytesInUse({
          totalBytes: grouped(totalBytes - freeBytes),
          totalBytes2: grouped(totalBytes),
        })
      : say.copies.whereItsFilesLie({ inside });
  return (
    <svg className="mb-1 h-8 w-full bg-sunk" role="img" aria-label={label}>
      <DoubtPattern />
      {space.map(([from, to, state], i) => (
        <rect
          key={i}
          x={share(from, length)}
          width={share(to - from, length)}
          height="100%"
          fill={FILLS[state]}
          stroke={strokeOf(state, to - from > length * SEEN_APART)}
          strokeWidth={state === 'deleted' ? 1.5 : 0.4}
        />
      ))}
    </svg>
  );
}

function DoubtPattern() {
  return (
    <defs>
      <pattern id="in-doubt" width="7" height="7" patternUnits="userSpaceOnUse">
        <rect width="7" height="7" fill="var(--grade-mended)" />
        <path d="M-1 1 1-1M0 7 7 0M6 8 8 6" stroke="var(--ground)" strokeWidth="1.6" />
      </pattern>
    </defs>
  );
}

function Swatch({ fill, stroke, children }: { fill: string; stroke?: string; children: string }) {
  return (
    <span className="flex items-center gap-1.5">
      <svg width="12" height="12" aria-hidden>
        <rect
          x="0.75"
          y="0.75"
          width="10.5"
          height="10.5"
          fill={fill}
          stroke={stroke ?? 'none'}
          strokeWidth="1.5"
        />
      </svg>
      {children}
    </span>
  );
}

export function SpaceKey() {
  return (
    <p className="mb-2 flex gap-4 text-[12px] text-ink-2">
      <Swatch fill="var(--grade-mended)">{say.copies.files2}</Swatch>
      <Swatch fill="url(#in-doubt)">{say.copies.filesTouchedBySectors}</Swatch>
      <Swatch fill="var(--sunk)">{say.copies.free2}</Swatch>
      <Swatch fill="none" stroke="var(--verdigris)">
        {say.copies.deletedStillThere}
      </Swatch>
    </p>
  );
}
