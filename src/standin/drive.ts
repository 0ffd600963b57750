/** A simulated drive: a head that gets dirty, a spindle a little off its speed, and faults that can be ordered. */
import type { TrackReading } from '@/core/flux/reading';
import { agedReading } from '@/core/flux/ageing';
import type { DriveDescription, DriveStatus, Request } from '@/benchlink/messages';
import { DeviceError } from '@/benchlink/messages';
import type { Medium } from './medium';

type ReadTrack = Extract<Request, { op: 'read-track' }>;
type Fault = Extract<Request, { op: 'hand-fault' }>['fault'];

/** Seconds a step to the next cylinder takes, and to settle. */
const STEP_SECONDS = 0.003;
const SETTLE_SECONDS = 0.015;
/** A head can't get dirtier than this. */
const DIRTIEST = 1;
/** A head between two tracks reads its neighbours as a dirty one would. */
const BETWEEN_TRACKS = 0.35;

export class Drive {
  private medium: Medium | null = null;
  private cylinder = 0;
  private dirt = 0;
  private fault: { fault: Fault; after: number } | null = null;

  /** `speedError` is a share: 0.008 turns 0.8 % fast. `wait` passes drive time, given in seconds. */
  constructor(
    readonly description: DriveDescription, private readonly speedError: number,
    private readonly wait: (seconds: number, signal: AbortSignal) => Promise<void>, private readonly vanish: () => void,
  ) {}

  status(): DriveStatus {
    return { ready: this.medium !== null, medium: this.medium !== null, writeProtected: this.medium?.file.writeProtected ?? false, cylinder: this.cylinder };
  }

  holds(medium: Medium): boolean {
    return this.medium === medium;
  }

  insert(medium: Medium): void {
    if (this.medium) throw new DeviceError('refused', `There is a disk in drive ${this.description.id} already: ${this.medium.file.label}.`);
    if (medium.file.form !== this.description.form) throw new DeviceError('refused', `${medium.file.label} does not fit drive ${this.description.id}.`);
    this.medium = medium;
  }

  remove(): void {
    this.medium = null;
  }

  clean(): void {
    if (this.medium) throw new DeviceError('refused', 'Take the disk out first: the head can\'t be reached.');
    this.dirt = 0;
  }

  order(fault: Fault, after: number): void {
    this.fault = { fault, after };
  }

  async read(request: ReadTrack, signal: AbortSignal): Promise<TrackReading> {
    const { cylinder, head, pass, revolutions, approach } = request;
    const medium = this.need(cylinder, head);
    this.failIfOrdered();
    await this.seek(cylinder, approach, signal);
    const turnSeconds = 60 / this.description.rpm / (1 + this.speedError);
    await this.wait(turnSeconds * (revolutions + 0.5), signal);
    if (this.medium !== medium) throw new DeviceError('medium-gone', 'The disk was taken out while it was read.');
    const { tickHz, cylinders } = this.description;
    const { turn, between } = medium.under(cylinder, head, this.description.cylinders);
    const reading = agedReading(turn, medium.file.ageing, { cylinder, head, pass, cylinders, tickHz, turnSeconds, revolutions, dirt: between ? Math.max(this.dirt, BETWEEN_TRACKS) : this.dirt }, medium.readings++);
    this.dirt = Math.min(DIRTIEST, this.dirt + medium.file.ageing.shedding);
    return reading;
  }

  async write(reading: TrackReading, signal: AbortSignal): Promise<void> {
    const medium = this.need(reading.cylinder, reading.head);
    this.failIfOrdered();
    if (medium.file.writeProtected) throw new DeviceError('write-protected', `The disk in drive ${this.description.id} is write-protected.`);
    await this.seek(reading.cylinder, 'plain', signal);
    const turnSeconds = 60 / this.description.rpm / (1 + this.speedError);
    await this.wait(turnSeconds * 1.5, signal);
    medium.write(reading, this.description.tickHz, turnSeconds);
  }

  private need(cylinder: number, head: number): Medium {
    const { cylinders, heads, id } = this.description;
    if (cylinder >= cylinders || head >= heads) throw new DeviceError('refused', `Drive ${id} has no cylinder ${cylinder}, head ${head}.`);
    if (!this.medium) throw new DeviceError('not-ready', `There is no disk in drive ${id}.`);
    return this.medium;
  }

  private failIfOrdered(): void {
    if (!this.fault || this.fault.after-- > 0) return;
    const { fault } = this.fault;
    this.fault = null;
    if (fault === 'device-gone') this.vanish();
    if (fault === 'medium-gone') this.medium = null;
    const words = { 'not-ready': 'is not ready', 'write-protected': 'says that the disk is write-protected', 'time-out': 'did not find an index pulse in time', 'medium-gone': 'lost its disk', 'device-gone': 'is gone' };
    throw new DeviceError(fault, `Drive ${this.description.id} ${words[fault]}.`);
  }

  private async seek(cylinder: number, approach: ReadTrack['approach'], signal: AbortSignal): Promise<void> {
    const away = approach === 'plain' ? 0 : 20;
    const steps = Math.abs(cylinder - this.cylinder) + away;
    this.cylinder = cylinder;
    await this.wait(steps * STEP_SECONDS + SETTLE_SECONDS, signal);
  }
}
