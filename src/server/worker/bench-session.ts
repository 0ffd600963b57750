/** A bench connection that a job holds: lost and found again, with the job told why it waits. */
import { setTimeout as sleep } from 'node:timers/promises';
import { BenchClient } from '@/benchlink/client';
import type { DeviceLink } from '@/benchlink/device-link';
import { DeviceError } from '@/benchlink/messages';
import { benchAddress } from '../bench-address';

const RETRY_MS = 500;
/** A time-out or a drive that is not ready is tried again this often before a hand is asked for. */
const PATIENCE = 3;

export interface Interruption {
  /** The device is away; `reason` is for the person. Called once each time. */
  held(reason: string): Promise<void>;
  back(): Promise<void>;
  /** A person no longer wants it; asked while waiting. */
  givenUp(): Promise<boolean>;
}

/** What to check when a device says this, in order. */
const ADVICE: Record<DeviceError['failure'], string> = {
  'device-gone': 'Check the cable and the power of the bench; it goes on by itself when it is back.',
  'medium-gone': 'Put the same disk back; it goes on by itself.',
  'not-ready': 'Check that the disk is in and the drive closed; it goes on by itself.',
  'time-out': 'Check that the disk turns; it goes on by itself.',
  'write-protected': 'Take the write protection off, if this is the right disk; it goes on by itself.',
  cancelled: '',
  refused: 'It goes on by itself when the bench allows it.',
};

export class BenchSession {
  private link: DeviceLink | null = null;

  constructor(private readonly interruption: Interruption, private readonly signal: AbortSignal) {}

  /** Does `work`, waiting out whatever the device does in between; null when it was given up or the worker stops. */
  async do<T>(work: (link: DeviceLink) => Promise<T>): Promise<T | null> {
    let held = false;
    for (let failures = 0; !this.signal.aborted;) {
      try {
        this.link ??= await BenchClient.connect(benchAddress());
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
          await this.interruption.held(`${error.message} ${ADVICE[error.failure]}`.trim());
        }
        if (held && await this.interruption.givenUp()) return null;
        await sleep(RETRY_MS, undefined, { signal: this.signal }).catch(() => undefined);
      }
    }
    return null;
  }

  close(): void {
    this.link?.close();
  }
}
