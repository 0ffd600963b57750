/** A bench connection that a job holds: lost and found again, with the job told why it waits. */
import { setTimeout as sleep } from 'node:timers/promises';
import type { DeviceLink } from '@/benchlink/device-link';
import { DeviceError, type TrackDriveDescription } from '@/benchlink/messages';
import { linkFor } from './links';
import { said, type Said } from '@/core/said';

const RETRY_MS = 500;
/** A time-out or a drive that is not ready is tried again this often before a hand is asked for. */
const PATIENCE = 3;

interface Interruption {
  /** The device is away; `reason` is for the person. Called once each time. */
  held(reason: Said): Promise<void>;
  back(): Promise<void>;
  /** A person no longer wants it; asked while waiting. */
  givenUp(): Promise<boolean>;
}

export type Advice = Record<DeviceError['failure'], Said | null>;

/** What to check when a drive of disks says this, in order. */
const ADVICE: Advice = {
  'device-gone': said('platform.checkTheCableAnd'),
  'medium-gone': said('platform.putTheSameDisk'),
  'not-ready': said('platform.checkThatTheDisk'),
  'time-out': said('platform.checkThatTheDiskTurns'),
  'write-protected': said('platform.takeTheWriteProtection'),
  cancelled: null,
  refused: said('platform.itGoesOnBy'),
};

/** What to check when a device that is read block by block says this, in order. */
export const BLOCK_ADVICE: Advice = {
  ...ADVICE,
  'device-gone': said('platform.checkInThisOrder'),
  'not-ready': said('platform.giveItAMinute'),
  'time-out': said('platform.itStallsLeaveIt'),
  'medium-gone': said('platform.putTheSameDisc'),
};

/** `L` is what it holds: a link to drives, or the bench itself where a line of it is used. */
export class BenchSession<L extends DeviceLink = DeviceLink> {
  private link: L | null = null;

  constructor(
    private readonly drive: string,
    private readonly interruption: Interruption,
    private readonly signal: AbortSignal,
    private readonly advice = ADVICE,
    private readonly connect: () => Promise<L> = () => linkFor(drive) as Promise<L>,
  ) {}

  /**
   * Does `work`, waiting out whatever the device does in between; null when it was given up or the
   * worker stops.
   */
  private tellHeld({ message, failure }: DeviceError): Promise<void> {
    const advice = this.advice[failure];
    return this.interruption.held(said('platform.theDeviceSays', { message, advice }));
  }

  async do<T>(work: (link: L) => Promise<T>): Promise<T | null> {
    let held = false;
    for (let failures = 0; !this.signal.aborted;) {
      try {
        this.link ??= await this.connect();
        const result = await work(this.link);
        if (held) await this.interruption.back();
        return result;
      } catch (error) {
        if (!(error instanceof DeviceError)) throw error;
        if (this.signal.aborted) return null;
        if (error.failure === 'device-gone') {
          this.link?.close();
          this.link = null;
        }
        failures++;
        const passing = error.failure === 'time-out' || error.failure === 'not-ready';
        if (!held && !(passing && failures < PATIENCE)) {
          held = true;
          await this.tellHeld(error);
        }
        if (held && (await this.interruption.givenUp())) return null;
        await sleep(RETRY_MS, undefined, { signal: this.signal }).catch(() => undefined);
      }
    }
    return null;
  }

  /** Does `work` once, and waits for nothing; whatever the device does is thrown. */
  async once<T>(work: (link: L) => Promise<T>): Promise<T> {
    this.link ??= await this.connect();
    return work(this.link);
  }

  /**
   * What the drive says of itself; undefined where the bench has none of its name that reads
   * tracks.
   */
  trackDrive(): Promise<TrackDriveDescription | null | undefined> {
    return this.do(async (link) =>
      (await link.drives()).find(
        (each): each is TrackDriveDescription =>
          each.id === this.drive && each.delivers !== 'blocks',
      ),
    );
  }

  close(): void {
    this.link?.close();
  }
}
