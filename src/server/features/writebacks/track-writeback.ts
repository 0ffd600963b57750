/** Writes an image to a blank, track by track, and proves each track by reading it back. */
import { and, eq } from 'drizzle-orm';
import { precompensated } from '@/core/flux/precompensation';
import { perfectReading } from '@/core/flux/synthesis';
import type { Layout } from '@/core/layout/layout';
import { testedTrack } from '@/core/reading/analysis/self-test';
import { TrackDecoder, type TrackDecode } from '@/core/reading/decode/track-decoder';
import { markOf } from '@/core/reading/sector-mark';
import { said, type Said } from '@/core/said';
import type { TrackDriveDescription } from '@/benchlink/messages';
import { announce } from '@/server/platform/events';
import type { JobOutcome } from '@/server/platform/jobs/engine';
import { describeFound, lookAtTracks } from './look-at-tracks';
import { writebackTracks, writebacks } from './tables';
import {
  isProved,
  tracksOfCapture,
  tracksOfFlatImage,
  type CaptureToWrite,
  type TrackToWrite,
} from './tracks-to-write';
import { WritebackRun } from './writeback-run';
import { setWritebackState, type WritebackFacts } from './writeback-state';

/** Writings of one track before it is given up. */
const TRIES = 3;
/** Tracks named that failed. */
const MAX_TOLD = 6;

interface TrackWritebackFacts extends WritebackFacts {
  layout: Layout;
  image: Uint8Array;
  /** Null where the image is laid out anew. */
  capture: CaptureToWrite | null;
}

interface Place {
  cylinder: number;
  head: number;
}

const keyOf = ({ cylinder, head }: Place) => cylinder * 2 + head;

function turnToWrite(
  { turn, ns, position: cylinder, head }: TrackToWrite,
  { rpm, tickHz }: TrackDriveDescription,
) {
  const intervals = precompensated(turn, ns, 60 / rpm);
  return perfectReading(intervals, { cylinder, head, pass: 0 }, (tickHz * 60) / rpm, 1);
}

export class TrackWriteback extends WritebackRun<TrackWritebackFacts> {
  private settled = new Set<number>();

  protected async write(): Promise<JobOutcome> {
    const { row, target } = this.facts;
    const { db, signal } = this.context;
    const done = await db
      .select()
      .from(writebackTracks)
      .where(eq(writebackTracks.writebackId, row.id));
    this.settled = new Set(done.map(keyOf));
    const drive = await this.bench.trackDrive();
    if (!drive) return this.stopped();
    const onAll = (code2: string) =>
      setWritebackState(
        this.context,
        row,
        'writing',
        said('writebacks.lookingAtAllOf', { code: target.code, code2 }),
      );
    const outcome = await this.meetTarget(
      (link) => lookAtTracks({ db, signal, link, drive: { ...drive, id: this.drive }, onAll }),
      describeFound,
    );
    return outcome ?? this.writeAll(drive);
  }

  private async writeAll(drive: TrackDriveDescription): Promise<JobOutcome> {
    const decoder = new TrackDecoder(drive, 'all');
    for (const track of this.tracks(drive)) {
      const isWritten = !(await this.isGivenUp()) && (await this.writeTrack(track, decoder, drive));
      if (!isWritten) return this.stopped();
      this.settled.add(keyOf(track));
    }
    return this.prove();
  }

  private tracks({ cylinders }: TrackDriveDescription): Iterable<TrackToWrite> {
    const { layout, image, capture, row } = this.facts;
    const { precompensate } = row;
    const isDone = (place: Place) => this.settled.has(keyOf(place));
    return capture
      ? tracksOfCapture(capture, isDone)
      : tracksOfFlatImage(layout, image, { cylinders, precompensate }, isDone);
  }

  /**
   * Writes and reads back one track, a few times if it must; false when the worker stops or nobody
   * wants it any more.
   */
  private async writeTrack(
    track: TrackToWrite,
    decoder: TrackDecoder,
    drive: TrackDriveDescription,
  ): Promise<boolean> {
    const { head, position } = track;
    const turn = turnToWrite(track, drive);
    for (let tries = 1; ; tries++) {
      const back = await this.bench.do(async (link) => {
        const { signal } = this.context;
        await link.writeTrack(this.drive, turn, signal);
        return link.readTrack(
          this.drive,
          { cylinder: position, head, pass: tries, revolutions: 2, approach: 'plain' },
          signal,
        );
      });
      if (!back) return false;
      const { layout, capture } = this.facts;
      const stepping = position === track.cylinder ? 1 : 2;
      const decoded = decoder.decode([back], capture ? null : layout, {
        stepping,
        effort: 'by-turns',
      });
      const proved = isProved(decoded, track.wanted);
      if (!proved && tries < TRIES) continue;
      const { spread } = testedTrack(back, decoded, drive);
      await this.keep(track, { proved, tries, spread }, decoded);
      return true;
    }
  }

  private async keep(
    { cylinder, head }: TrackToWrite,
    outcome: { proved: boolean; tries: number; spread: number },
    decoded: TrackDecode,
  ): Promise<void> {
    const { id } = this.facts.row;
    const sectors = decoded.sectors.map((sector) => markOf(sector));
    const now = said('writebacks.writtenAndReadBackUp', { cylinder, head });
    await this.context.commit(async (tx) => {
      await tx
        .insert(writebackTracks)
        .values({ writebackId: id, cylinder, head, sectors, ...outcome });
      await tx.update(writebacks).set({ state: 'writing', now }).where(eq(writebacks.id, id));
      const { proved } = outcome;
      await announce(tx, { kind: 'writeback-track', writebackId: id, cylinder, head, proved });
    });
  }

  protected written(): Said {
    return said('writebacks.tracksWere', { written: this.settled.size });
  }

  private async prove(): Promise<JobOutcome> {
    const failed = await this.context.db
      .select({ cylinder: writebackTracks.cylinder, head: writebackTracks.head })
      .from(writebackTracks)
      .where(
        and(eq(writebackTracks.writebackId, this.facts.row.id), eq(writebackTracks.proved, false)),
      )
      .orderBy(writebackTracks.cylinder, writebackTracks.head);
    const all = this.settled.size;
    if (failed.length === 0)
      return this.end('proved', said('writebacks.provedAllTracksWere', { all }));
    const places = failed.slice(0, MAX_TOLD).map(({ cylinder, head }) => `${cylinder}/${head}`);
    return this.end(
      'unproved',
      said('writebacks.notProvedOfTracks', {
        unproved: failed.length,
        all,
        places: places.join(', '),
        more: failed.length > MAX_TOLD,
      }),
    );
  }
}
