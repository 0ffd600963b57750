/** What the suspicion of a dirty head rests on: how the readings of one run came out. */
import type { TrackDecode } from '@/core/reading/decode/track-decoder';
import {
  confirmDirtyHead,
  detectDirtyHead,
  type FirstReading,
} from '@/core/reading/plan/head-care';
import type { TrackProgress } from '@/core/reading/plan/plan';
import { unsoundOf } from './decoded-readings';

export class HeadWatch {
  /** First readings in the order taken. */
  private history: FirstReading[] = [];
  /** Whether each reading again made anything better. */
  private better: boolean[] = [];
  /** A track that read well: read once more, it tells the head from the disk. */
  readWell: { cylinder: number; head: number } | null = null;

  count(pass: number, decoded: TrackDecode, progress: TrackProgress): void {
    if (pass > 1) {
      this.better.push(progress.sinceBetter === 0);
      return;
    }
    const { cylinder, head, sectors } = decoded;
    const unsound = unsoundOf(decoded);
    this.history.push({ unsound, sectors: sectors.length });
    if (unsound === 0 && sectors.length > 0) this.readWell = { cylinder, head };
  }

  isSuspicious(): boolean {
    return detectDirtyHead(this.history) || confirmDirtyHead(this.better);
  }

  /** Looked at now: it takes as many readings again until it is suspected once more. */
  beginAnew(): void {
    this.history = [];
    this.better = [];
  }
}
