/**
 * A simulated drive: a head that gets dirty, a spindle a little off its speed, and faults that can
 * be ordered.
 */
import type { TrackReading } from '@/core/flux/reading';
import { simulateReading, type Ageing } from '@/core/flux/ageing';
import { cellSeconds } from '@/core/layout/layout';
import { isSound } from '@/core/reading/grades';
import type { ControllerTrack } from '@/core/reading/controller/controller-tracks';
import { TrackDecoder } from '@/core/reading/decode/track-decoder';
import type { DriveStatus, Request, TrackDriveDescription } from '@/benchlink/messages';
import { DeviceError } from '@/benchlink/messages';
import type { Medium } from './medium';
import { OrderedFault, type Fault } from './ordered-fault';

type ReadTrack = Extract<Request, { op: 'read-track' }>;

/** Seconds a step to the next cylinder takes, and to settle. */
const STEP_SECONDS = 0.003;
const SETTLE_SECONDS = 0.015;
/** A head can't get dirtier than this. */
const DIRTIEST = 1;
/**
 * A head between two tracks reads its neighbours as a dirty one would; one a part of a step beside
 * its track, less so.
 */
const BETWEEN_TRACKS = 0.35;
const BESIDE_TRACK = 0.05;
/** One in the middle of a track that was written beside it. */
const OUT_OF_LINE = 0.6;

export class Drive {
  private medium: Medium | null = null;
  private cylinder = 0;
  private dirt = 0;
  private readonly fault: OrderedFault;

  /**
   * `speedError` is a share: 0.008 turns 0.8 % fast. `wait` passes drive time, given in seconds.
   */
  constructor(
    readonly description: TrackDriveDescription,
    private readonly speedError: number,
    private readonly wait: (seconds: number, signal: AbortSignal) => Promise<void>,
    vanish: () => void,
  ) {
    this.fault = new OrderedFault(
      description.id,
      { vanish, eject: () => this.remove() },
      {
        'not-ready': 'is not ready',
        'write-protected': 'says that the disk is write-protected',
        'time-out': 'did not find an index pulse in time',
        'medium-gone': 'lost its disk',
        'device-gone': 'is gone',
      },
    );
  }

  status(): DriveStatus {
    return {
      ready: this.medium !== null,
      medium: this.medium !== null,
      writeProtected: this.medium?.file.writeProtected ?? false,
      cylinder: this.cylinder,
    };
  }

  holds(medium: unknown): boolean {
    return this.medium === medium;
  }

  insert(medium: Medium): void {
    if (this.medium)
      throw new DeviceError(
        'refused',
        `There is a disk in drive ${this.description.id} already: ${this.medium.file.label}.`,
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

  /** A hand takes out what is in it, cleans the head, and puts it back. */
  clean(): void {
    this.dirt = 0;
  }

  order(fault: Fault, after: number): void {
    this.fault.order(fault, after);
  }

  async read(request: ReadTrack, signal: AbortSignal): Promise<TrackReading> {
    const { cylinder, head, pass, revolutions, approach } = request;
    const medium = this.need(cylinder, head);
    this.fault.check();
    await this.seek(cylinder, approach, signal);
    const turnSeconds = 60 / this.description.rpm / (1 + this.speedError);
    await this.wait(turnSeconds * (revolutions + 0.5), signal);
    if (this.medium !== medium)
      throw new DeviceError('medium-gone', 'The disk was taken out while it was read.');
    const { tickHz, cylinders } = this.description;
    const { turn, between } = medium.under(cylinder, head, this.description.cylinders);
    const dirt = Math.max(
      this.dirt,
      between ? BETWEEN_TRACKS : 0,
      blurOf(medium.file.ageing, request),
    );
    const reading = simulateReading(
      turn,
      medium.file.ageing,
      { cylinder, head, pass, cylinders, tickHz, turnSeconds, revolutions, dirt },
      medium.readings++,
    );
    this.dirt = Math.min(DIRTIEST, this.dirt + medium.file.ageing.shedding);
    return reading;
  }

  /**
   * As a drive with a controller of its own: it decodes what it reads, plainly, and tells what came
   * out.
   */
  async readSectors(
    request: Omit<ReadTrack, 'op' | 'revolutions'>,
    signal: AbortSignal,
  ): Promise<ControllerTrack> {
    const { cylinder, head, pass } = request;
    const { tickHz, rpm } = this.description;
    const reading = await this.read({ ...request, op: 'read-track', revolutions: 2 }, signal);
    const {
      sectors,
      formats: [format],
    } = new TrackDecoder({ tickHz, rpm }, 'as-needed').decode([reading], null, { effort: 'plain' });
    const encoding = format?.encoding ?? 'mfm';
    const own = sectors.filter((sector) => sector.encoding === encoding);
    return {
      cylinder,
      head,
      pass,
      encoding,
      rateKbps: format
        ? Math.round((tickHz / format.cellTicks) * cellSeconds({ encoding, rateKbps: 1 }))
        : 250,
      sectors: own.map(({ c, h, r, n, size, grade, deleted, data }) => ({
        c,
        h,
        r,
        n,
        size,
        status: !data
          ? 'no-data'
          : isSound(grade)
            ? deleted
              ? 'right-deleted'
              : 'right'
            : 'wrong-check',
      })),
      data: concatenated(
        own.map(({ data, size }) => data ?? new Uint8Array(size)),
        own.map(({ size }) => size),
      ),
    };
  }

  async write(reading: TrackReading, signal: AbortSignal): Promise<void> {
    const medium = this.need(reading.cylinder, reading.head);
    this.fault.check();
    if (medium.file.writeProtected)
      throw new DeviceError(
        'write-protected',
        `The disk in drive ${this.description.id} is write-protected.`,
      );
    await this.seek(reading.cylinder, 'plain', signal);
    const turnSeconds = 60 / this.description.rpm / (1 + this.speedError);
    await this.wait(turnSeconds * 1.5, signal);
    medium.write(reading, this.description.tickHz, turnSeconds);
  }

  private need(cylinder: number, head: number): Medium {
    const { cylinders, heads, id } = this.description;
    if (cylinder >= cylinders || head >= heads)
      throw new DeviceError('refused', `Drive ${id} has no cylinder ${cylinder}, head ${head}.`);
    if (!this.medium) throw new DeviceError('not-ready', `There is no disk in drive ${id}.`);
    return this.medium;
  }

  private async seek(
    cylinder: number,
    approach: ReadTrack['approach'],
    signal: AbortSignal,
  ): Promise<void> {
    const away = approach === 'from-inside' || approach === 'from-outside' ? 20 : 0;
    const steps = Math.abs(cylinder - this.cylinder) + away;
    this.cylinder = cylinder;
    await this.wait(steps * STEP_SECONDS + SETTLE_SECONDS, signal);
  }
}

/** How much worse than its medium a head reads that does not stand where the track was written. */
function blurOf(
  { beside = [] }: Ageing,
  { cylinder, head, approach }: Pick<ReadTrack, 'cylinder' | 'head' | 'approach'>,
): number {
  const written = beside.find((each) => each.cylinder === cylinder && each.head === head);
  const stands =
    approach === 'beside-outward' ? 'outward' : approach === 'beside-inward' ? 'inward' : null;
  if (written) return written.towards === stands ? 0 : OUT_OF_LINE;
  return stands ? BESIDE_TRACK : 0;
}

/** Each part at its place, cut or filled with zeros to its size. */
function concatenated(parts: readonly Uint8Array[], sizes: readonly number[]): Uint8Array {
  const out = new Uint8Array(sizes.reduce((sum, size) => sum + size, 0));
  let at = 0;
  for (const [i, part] of parts.entries()) {
    out.set(part.subarray(0, sizes[i]), at);
    at += sizes[i]!;
  }
  return out;
}
