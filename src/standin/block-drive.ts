/**
 * A simulated drive that delivers blocks: a hard disk at its cable, or an optical drive with its
 * speeds.
 */
import type { BlockMedium } from '@/core/block/device';
import {
  DeviceError,
  type BlockDriveDescription,
  type DriveStatus,
  type Request,
} from '@/benchlink/messages';
import type { BlockMediumInDrive } from './block-medium';
import { OrderedFault, type Fault } from './ordered-fault';

type ReadBlocks = Extract<Request, { op: 'read-blocks' }>;
type WriteBlocks = Extract<Request, { op: 'write-blocks' }>;

/** Bytes a second of a hard disk, and of a disc at its lowest speed of 1. */
const DISK_RATE = 3_500_000;
const DISC_RATE = 153_600;
/** Seconds a request takes beside its bytes. */
const SEEK_SECONDS = 0.012;

interface BlocksOut {
  got: number;
  stopped: { why: 'unreadable' | 'time-out'; toldWhere: boolean } | null;
  ms: number;
  flags: boolean;
  payload: Uint8Array;
}

export class BlockDrive {
  private medium: BlockMediumInDrive | null = null;
  private at = 0;
  private readonly fault: OrderedFault;

  constructor(
    readonly description: BlockDriveDescription,
    private readonly wait: (seconds: number, signal: AbortSignal) => Promise<void>,
    vanish: () => void,
  ) {
    this.fault = new OrderedFault(
      description.id,
      { vanish, eject: () => this.remove() },
      {
        'not-ready': 'is not ready',
        'write-protected': 'refuses to write',
        'time-out': 'did not answer in time',
        'medium-gone': 'lost what was in it',
        'device-gone': 'is gone',
      },
    );
  }

  status(): DriveStatus {
    return {
      ready: this.medium !== null,
      medium: this.medium !== null,
      writeProtected: !(this.medium?.canBeWritten ?? false),
      cylinder: this.at,
    };
  }

  holds(medium: unknown): boolean {
    return this.medium === medium;
  }

  insert(medium: BlockMediumInDrive): void {
    if (this.medium)
      throw new DeviceError(
        'refused',
        `There is something in drive ${this.description.id} already: ${this.medium.file.label}.`,
      );
    if (medium.file.form !== this.description.form)
      throw new DeviceError(
        'refused',
        `${medium.file.label} does not fit drive ${this.description.id}.`,
      );
    this.medium = medium;
  }

  remove(): void {
    this.medium = null;
  }

  order(fault: Fault, after: number): void {
    this.fault.order(fault, after);
  }

  describeMedium(): BlockMedium {
    return this.need().describe();
  }

  private refuseBeyond(last: number, { file }: BlockMediumInDrive): void {
    const { blocks } = file.medium;
    if (last < blocks) return;
    throw new DeviceError(
      'refused',
      `Drive ${this.description.id} holds ${blocks} blocks; ${last} is beyond the last.`,
    );
  }

  private refuseSpeed(speed: number | null): void {
    const { speeds, id } = this.description;
    if (speed !== null && !speeds.includes(speed))
      throw new DeviceError('refused', `Drive ${id} can't be set to speed ${speed}.`);
  }

  async readBlocks(
    { from, count, speed, flags }: ReadBlocks,
    signal: AbortSignal,
  ): Promise<BlocksOut> {
    const medium = this.need();
    const { blockBytes } = medium.file.medium;
    this.refuseBeyond(from + count - 1, medium);
    this.refuseSpeed(speed);
    this.fault.check();
    const { speeds } = this.description;
    const share = speeds.length > 0 ? (speed ?? speeds[0]!) / speeds[0]! : 1;
    let stopped: BlocksOut['stopped'] = null;
    let ms = SEEK_SECONDS * 1000;
    let got = 0;
    for (; got < count && !stopped; got++) {
      const visit = medium.visit(from + got, speed);
      ms += visit.ms;
      if (!visit.stopped) continue;
      stopped = { why: visit.stopped, toldWhere: medium.file.tellsWhere };
      break;
    }
    const kept = stopped && !medium.file.tellsWhere ? 0 : got;
    ms +=
      (got * blockBytes * 1000) /
      (speeds.length > 0 ? DISC_RATE * (speed ?? speeds[0]!) : DISK_RATE);
    await this.wait(ms / 1000, signal);
    if (this.medium !== medium)
      throw new DeviceError('medium-gone', 'It was taken away while it was read.');
    this.at = from + kept;
    const out = medium.read(from, kept, share);
    const withFlags = flags && out.flags !== null;
    return {
      got: kept,
      stopped,
      ms,
      flags: withFlags,
      payload: withFlags ? joined(out.bytes, out.flags!) : out.bytes,
    };
  }

  async writeBlocks(
    { from, count }: Pick<WriteBlocks, 'from' | 'count'>,
    bytes: Uint8Array,
    signal: AbortSignal,
  ): Promise<void> {
    const medium = this.need();
    const { id, writes, speeds } = this.description;
    const { blocks, blockBytes } = medium.file.medium;
    if (!writes) throw new DeviceError('refused', `Drive ${id} does not write.`);
    if (from + count > blocks)
      throw new DeviceError(
        'refused',
        `Drive ${id} holds ${blocks} blocks; ${from + count - 1} is beyond the last.`,
      );
    if (bytes.length !== count * blockBytes)
      throw new DeviceError(
        'refused',
        `${count} blocks of ${blockBytes} bytes were announced, and ${bytes.length} bytes came.`,
      );
    this.fault.check();
    if (!medium.canBeWritten)
      throw new DeviceError('write-protected', `What is in drive ${id} is write-protected.`);
    await this.wait(
      SEEK_SECONDS + bytes.length / (speeds.length > 0 ? DISC_RATE * speeds[0]! : DISK_RATE),
      signal,
    );
    if (this.medium !== medium)
      throw new DeviceError('medium-gone', 'It was taken away while it was written.');
    this.at = from + count;
    medium.write(from, bytes);
  }

  private need(): BlockMediumInDrive {
    if (!this.medium)
      throw new DeviceError('not-ready', `There is nothing in drive ${this.description.id}.`);
    return this.medium;
  }
}

function joined(a: Uint8Array, b: Uint8Array): Uint8Array {
  const out = new Uint8Array(a.length + b.length);
  out.set(a);
  out.set(b, a.length);
  return out;
}
