/**
 * One request to a block device, with what its own checks say of each block: raw sectors of a disc
 * are looked at, and mended where they can be.
 */
import type { EarlierReadings } from '@/core/optical/earlier-readings';
import { FLAG_BYTES, flagged } from '@/core/optical/other-readings';
import { RAW_BYTES } from '@/core/optical/raw-sector';
import { isRawDisc, type BlockMedium } from '@/core/block/device';
import type { ReadBlocks } from '@/core/block/salvage-plan';
import type { BlockOutcome } from '@/core/block/apply-outcome';
import type { Pace } from '@/core/block/extent-map';
import type { BlocksRead, DeviceLink } from '@/benchlink/device-link';

/** How many times the usual makes a request slow, and very slow. */
const SLOW = [8, 64] as const;
/** A request of few blocks takes at least this share of what one of many does. */
const LEAST_SHARE = 0.1;
const KEPT_TIMES = 31;

/** What is usual on this device, learnt as it is read. */
export class Paces {
  private readonly times = new Map<number | null, number[]>();

  /** `full` is the blocks of a large request. */
  constructor(private readonly full: number) {}

  paceOf(speed: number | null, blocks: number, ms: number): Pace {
    const times = this.times.get(speed) ?? [];
    const usual = [...times].sort((a, b) => a - b)[times.length >> 1];
    if (blocks === this.full) this.times.set(speed, [...times.slice(1 - KEPT_TIMES), ms]);
    if (usual === undefined || usual <= 0) return 0;
    const ratio = ms / (usual * Math.max(LEAST_SHARE, blocks / this.full));
    return ratio >= SLOW[1] ? 2 : ratio >= SLOW[0] ? 1 : 0;
  }
}

interface BlocksLooked {
  outcome: Omit<BlockOutcome, 'pace'>;
  /** `outcome.got` blocks, those that were mended as they should be. */
  bytes: Uint8Array;
  ms: number;
  why: 'unreadable' | 'time-out' | null;
}

export async function askBlocks(
  link: DeviceLink,
  drive: string,
  device: BlockMedium,
  { from, count, speed }: Pick<ReadBlocks, 'from' | 'count' | 'speed'>,
  earlier: EarlierReadings,
  signal: AbortSignal,
): Promise<BlocksLooked> {
  const raw = isRawDisc(device);
  const read = await link.readBlocks(
    drive,
    device.blockBytes,
    { from, count, speed, flags: raw },
    signal,
  );
  const base = { got: read.got, toldWhere: read.stopped?.toldWhere ?? true };
  return {
    ms: read.ms,
    why: read.stopped?.why ?? null,
    ...(raw ? looked(read, device, from, base, earlier) : { outcome: base, bytes: read.bytes }),
  };
}

/** The track that a block of a disc lies on. */
const trackAt = ({ tracks }: Pick<BlockMedium, 'tracks'>, block: number) =>
  [...tracks].reverse().find(({ start }) => start <= block);

function looked(
  { bytes, flags, got }: BlocksRead,
  device: BlockMedium,
  from: number,
  base: { got: number; toldWhere: boolean },
  earlier: EarlierReadings,
): Pick<BlocksLooked, 'outcome' | 'bytes'> {
  const wrongCheck: number[] = [];
  const corrected: number[] = [];
  const out = bytes.slice();
  for (let i = 0; i < got; i++) {
    const marks = flags && flagged(flags.subarray(i * FLAG_BYTES, (i + 1) * FLAG_BYTES));
    const mode = trackAt(device, from + i)?.mode ?? 'mode1';
    if (mode === 'audio') {
      // Sound has no check of its own: the drive's distrust is all there is.
      if (marks) wrongCheck.push(i);
      continue;
    }
    const raw = bytes.subarray(i * RAW_BYTES, (i + 1) * RAW_BYTES);
    const reading = { bytes: raw, flags: marks };
    const sector = earlier.check(reading, from + i, mode === 'mode2' ? 2 : 1);
    if (sector.verdict === 'unrepairable') wrongCheck.push(i);
    if (sector.verdict !== 'repairable') continue;
    corrected.push(i);
    out.set(sector.bytes, i * RAW_BYTES);
  }
  return { outcome: { ...base, wrongCheck, corrected }, bytes: out };
}
