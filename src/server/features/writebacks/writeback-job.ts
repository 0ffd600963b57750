/** Writes an image to a blank, track by track, and proves each track by reading it back. */
import { sealCertificate } from './certificates';
import { and, eq, sql } from 'drizzle-orm';
import { judgeTarget, tracksToLookAt } from '@/core/assembly/target-look';
import { readContainer } from '@/core/flux/container-reader';
import type { TrackReading } from '@/core/flux/reading';
import { precompensated, precompensationNs } from '@/core/flux/precompensation';
import { firstTurn, perfectReading, type TurnTransitions } from '@/core/flux/synthesis';
import { sameBytes } from '@/core/bits/same-bytes';
import { flatTrack } from '@/core/image/flat';
import { isBlockForm } from '@/core/medium-form';
import type { TrackDigest } from '@/core/image/track-digests';
import { encodeTrack } from '@/core/layout/encode-track';
import { formatAt, tracksOfImage, type Layout } from '@/core/layout/layout';
import { decodeCapture, driveFacts, groupByTrack } from '@/core/reading/decode/decode-capture';
import type { TrackSector } from '@/core/reading/track-sector';
import { markOf } from '@/core/reading/sector-mark';
import { testedTrack } from '@/core/reading/analysis/self-test';
import { TrackDecoder, type TrackDecode } from '@/core/reading/decode/track-decoder';
import type { DeviceLink } from '@/benchlink/device-link';
import type { TrackDriveDescription } from '@/benchlink/messages';
import { readBlob } from '@/server/platform/blobs/read-blob';
import { fairCopies, trackDigests } from '../copies/tables';
import { media } from '../media/tables';
import { stations } from '../stations/tables';
import { writebackTracks, writebacks } from './tables';
import { decodeWorkers } from '@/server/platform/threads/decode-workers';
import { announce } from '@/server/platform/events';
import type { JobContext, JobOutcome } from '@/server/platform/jobs/engine';
import { nodeDigester } from '@/node/digester';
import { allLayouts, layoutOfCopy } from '../layouts/layouts';
import { isDoubleStepped } from './writeback-check';
import type { WritebackState, TargetFound } from '@/server/states';
import { runBlockWriteback } from './block-writeback-job';
import { BenchSession } from '@/server/platform/devices/bench-session';
import {
  askBefore,
  endGivenUp,
  endWriteback,
  isCancelled,
  setWritebackState,
  type WritebackFacts,
} from './writeback-state';
import { said, type Said } from '@/core/said';

/** Writings of one track before it is given up. */
const TRIES = 3;

interface Facts extends WritebackFacts {
  drive: string;
  layout: Layout;
  image: Uint8Array;
  /** The capture to write back as it is; null where the image is laid out anew. */
  capture: { groups: TrackReading[][]; tickHz: number; rpm: number } | null;
}

/** What a track must read back as. */
interface TrackToWrite {
  cylinder: number;
  head: number;
  /** Where the head stands for it. */
  position: number;
  turn: TurnTransitions;
  /** Pre-compensation. */
  ns: number;
  wanted: readonly { r: number; data: Uint8Array | null }[];
}

class WritebackRun {
  private readonly bench: BenchSession;

  constructor(
    private readonly context: JobContext,
    private readonly facts: Facts,
  ) {
    this.bench = new BenchSession(
      facts.drive,
      {
        held: (reason) => this.setState('held', reason),
        back: () => this.setState('writing', said('platform.goingOnWhereIt')),
        givenUp: () => isCancelled(context.db, facts.row.id),
      },
      context.signal,
    );
  }

  async run(): Promise<JobOutcome> {
    try {
      const { row } = this.facts;
      const done = await this.context.db
        .select()
        .from(writebackTracks)
        .where(eq(writebackTracks.writebackId, row.id));
      const drive = await this.bench.trackDrive();
      if (!drive) return this.stopped(done.length);
      // What was looked at once, and let go, is not asked about again: by now it may be what this
      // return itself wrote.
      if (!row.overwrite && (!row.found || row.found.state === 'data')) {
        const found = await this.bench.do((link) => this.lookAtTarget(link, drive));
        if (found === null) return this.stopped(0);
        await this.tellFound(found);
        if (found.state === 'data') return this.ask(found);
      }
      const decoder = new TrackDecoder(drive, 'all');
      let unproved = done.filter(({ proved }) => !proved).length;
      const settled = new Set(done.map(({ cylinder, head }) => cylinder * 2 + head));
      let written = settled.size;
      for (const track of this.tracksToWrite(settled, drive)) {
        const proved = (await this.isGivenUp())
          ? null
          : await this.writeTrack(track, decoder, drive);
        if (proved === null) return this.stopped(written);
        if (!proved) unproved++;
        written++;
      }
      await this.end(unproved, written);
      return 'done';
    } finally {
      this.bench.close();
    }
  }

  /**
   * What a few tracks of the target hold; where they are all kept here already, whether the whole
   * of it is.
   */
  private async lookAtTarget(link: DeviceLink, drive: TrackDriveDescription): Promise<TargetFound> {
    const {
      context: { db, signal },
      facts: { drive: id },
    } = this;
    const readings: TrackReading[] = [];
    const read = async (places: readonly { cylinder: number; head: number }[]) => {
      for (const { cylinder, head } of places)
        readings.push(
          await link.readTrack(
            id,
            { cylinder, head, pass: 0, revolutions: 2, approach: 'plain' },
            signal,
          ),
        );
      const decoded = await decodeCapture(
        { form: drive.form, rpm: drive.rpm, tickHz: drive.tickHz },
        readings,
        { layouts: await allLayouts(db), workers: decodeWorkers() },
      );
      return { decoded, look: await judgeTarget(decoded, nodeDigester) };
    };
    const places = tracksToLookAt(drive);
    let { decoded, look } = await read(places);
    let heldAs: string | null = null;
    const like =
      look.state === 'data' && look.unsound === 0 ? await heldIn(db, look.digests) : null;
    if (like && decoded.layout) {
      // A few tracks that are kept say little of the rest: before it may go without a question, all
      // of it is read.
      const step = decoded.stepping;
      const rest = tracksOfImage(decoded.layout)
        .map(({ cylinder, head }) => ({ cylinder: cylinder * step, head }))
        .filter(
          (track) =>
            !places.some(
              ({ cylinder, head }) => cylinder === track.cylinder && head === track.head,
            ),
        );
      await setWritebackState(
        this.context,
        this.facts.row,
        'writing',
        said('writebacks.lookingAtAllOf', { code: this.facts.target.code, code2: like.code }),
      );
      ({ decoded, look } = await read(rest));
      const kept = await readBlob(db, like.imageBlob);
      if (look.unsound === 0 && look.image && sameBytes(look.image, kept)) heldAs = like.code;
    }
    const { state, sectors, layout, label, files } = look;
    return { state: heldAs ? 'held' : state, sectors, layout, label, files, heldAs };
  }

  private async tellFound(found: TargetFound): Promise<void> {
    const { row } = this.facts;
    await this.context.commit(async (tx) => {
      await tx.update(writebacks).set({ found }).where(eq(writebacks.id, row.id));
      await announce(tx, { kind: 'writeback', writebackId: row.id, stationId: row.stationId });
    });
  }

  /**
   * Writes and reads back one track, a few times if it must; null when the worker stops or nobody
   * wants it any more.
   */
  private async writeTrack(
    { cylinder, head, position, turn: transitions, wanted, ns }: TrackToWrite,
    decoder: TrackDecoder,
    drive: TrackDriveDescription,
  ): Promise<boolean | null> {
    const { layout, capture } = this.facts;
    const turn = perfectReading(
      precompensated(transitions, ns, 60 / drive.rpm),
      { cylinder: position, head, pass: 0 },
      (drive.tickHz * 60) / drive.rpm,
      1,
    );
    for (let tries = 1; ; tries++) {
      const read = await this.bench.do(async (link) => {
        await link.writeTrack(this.facts.drive, turn, this.context.signal);
        const back = await link.readTrack(
          this.facts.drive,
          { cylinder: position, head, pass: tries, revolutions: 2, approach: 'plain' },
          this.context.signal,
        );
        return {
          back,
          decoded: decoder.decode([back], capture ? null : layout, {
            stepping: position === cylinder ? 1 : 2,
          }),
        };
      });
      if (!read) return null;
      const proved = isProved(read.decoded, wanted);
      if (proved || tries === TRIES) {
        await this.keep(
          cylinder,
          head,
          proved,
          tries,
          read.decoded,
          testedTrack(read.back, read.decoded, drive).spread,
        );
        return proved;
      }
    }
  }

  /** Tracks still to be written: laid out anew from the image, or as the capture has them. */
  private *tracksToWrite(
    settled: ReadonlySet<number>,
    drive: TrackDriveDescription,
  ): Generator<TrackToWrite> {
    const { layout, image, capture, row } = this.facts;
    if (!capture) {
      const step = isDoubleStepped(layout, drive.cylinders) ? 2 : 1;
      for (const { cylinder, head } of [...tracksOfImage(layout)].sort(
        (a, b) => a.cylinder - b.cylinder || a.head - b.head,
      )) {
        if (settled.has(cylinder * 2 + head)) continue;
        const wanted = flatTrack(layout, image, cylinder, head);
        const ns = row.precompensate
          ? precompensationNs(
              formatAt(layout, cylinder, head)!.encoding,
              cylinder,
              layout.cylinders,
            )
          : 0;
        yield {
          cylinder,
          head,
          position: cylinder * step,
          turn: encodeTrack(layout, cylinder, head, wanted),
          wanted,
          ns,
        };
      }
      return;
    }
    const decoder = new TrackDecoder(capture, 'all');
    for (const group of capture.groups) {
      const { cylinder, head } = group[0]!;
      const turn = settled.has(cylinder * 2 + head) ? null : firstTurn(group[0]!, capture.tickHz);
      // Flux as it was read has the shift of its reading in it already: it goes back as it is.
      if (turn)
        yield {
          cylinder,
          head,
          position: cylinder,
          turn,
          ns: 0,
          wanted: decoder
            .decode([group[0]!], null)
            .sectors.map(({ r, data, grade }) => ({ r, data: grade === 'firm' ? data : null })),
        };
    }
  }

  private async keep(
    cylinder: number,
    head: number,
    proved: boolean,
    tries: number,
    decoded: TrackDecode,
    spread: number,
  ): Promise<void> {
    const { row } = this.facts;
    await this.context.commit(async (tx) => {
      await tx.insert(writebackTracks).values({
        writebackId: row.id,
        cylinder,
        head,
        proved,
        tries,
        spread,
        sectors: decoded.sectors.map((sector) => markOf(sector)),
      });
      await tx
        .update(writebacks)
        .set({
          state: 'writing',
          now: said('writebacks.writtenAndReadBackUp', { cylinder, head }),
        })
        .where(eq(writebacks.id, row.id));
      await announce(tx, { kind: 'writeback-track', writebackId: row.id, cylinder, head, proved });
    });
  }

  private isGivenUp(): Promise<boolean> {
    return isCancelled(this.context.db, this.facts.row.id);
  }

  /** The worker stops, or the write-back was given up. */
  private async stopped(written: number): Promise<JobOutcome> {
    if (!(await this.isGivenUp())) return 'again';
    await endGivenUp(this.context, this.facts, said('writebacks.tracksWere', { written }));
    return 'done';
  }

  private async ask(found: TargetFound): Promise<JobOutcome> {
    await askBefore(this.context, this.facts, describeFound(found));
    return 'done';
  }

  private async end(unproved: number, all: number): Promise<void> {
    const failed =
      unproved === 0
        ? []
        : await this.context.db
            .select({ cylinder: writebackTracks.cylinder, head: writebackTracks.head })
            .from(writebackTracks)
            .where(
              and(
                eq(writebackTracks.writebackId, this.facts.row.id),
                eq(writebackTracks.proved, false),
              ),
            )
            .orderBy(writebackTracks.cylinder, writebackTracks.head);
    const places = failed
      .slice(0, 6)
      .map(({ cylinder, head }) => `${cylinder}/${head}`)
      .join(', ');
    await endWriteback(
      this.context,
      this.facts,
      unproved === 0 ? 'proved' : 'unproved',
      unproved === 0
        ? said('writebacks.provedAllTracksWere', { all })
        : said('writebacks.notProvedOfTracks', {
            unproved,
            all,
            places,
            more: failed.length > 6,
          }),
    );
  }

  private setState(state: WritebackState, now: Said): Promise<void> {
    return setWritebackState(this.context, this.facts.row, state, now);
  }
}

/** The image that all of these tracks are kept in. */
async function heldIn(
  db: JobContext['db'],
  digests: readonly TrackDigest[],
): Promise<{ code: string; imageBlob: string } | null> {
  if (digests.length === 0) return null;
  const same = sql.join(
    digests.map(
      ({ cylinder, head, digest }) =>
        sql`(${trackDigests.cylinder} = ${cylinder} and ${trackDigests.head} = ${head} and ${trackDigests.digest} = ${digest})`,
    ),
    sql` or `,
  );
  const [found] = await db
    .select({
      code: media.code,
      imageBlob: fairCopies.imageBlob,
      count: sql<number>`count(*)::int`,
    })
    .from(trackDigests)
    .innerJoin(fairCopies, eq(fairCopies.id, trackDigests.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(same)
    .groupBy(fairCopies.id, fairCopies.imageBlob, media.code)
    .orderBy(sql`count(*) desc`)
    .limit(1);
  return found?.count === digests.length ? found : null;
}

/** What was found, as it is told before anything is written. */
function describeFound({ sectors, label, files }: TargetFound): Said {
  return said('writebacks.theTracksLookedAt', {
    sectors,
    label: label ?? '',
    files: files.slice(0, 3),
    more: files.length > 3,
  });
}

/**
 * Reads back as it was meant to: sound and with the same bytes, or, where the original had no right
 * check, without one again.
 */
function readsBackAs(back: TrackSector | undefined, data: Uint8Array | null): boolean {
  if (!data) return back?.grade === 'doubtful';
  return back?.grade === 'firm' && back.data !== null && Buffer.compare(back.data, data) === 0;
}

/** Every sector that was written reads back in the first reading, and nothing else does. */
function isProved({ sectors }: TrackDecode, wanted: TrackToWrite['wanted']): boolean {
  const left = [...sectors];
  return (
    sectors.length === wanted.length &&
    wanted.every(({ r, data }) => {
      const at = left.findIndex((sector) => sector.r === r && readsBackAs(sector, data));
      return at >= 0 && left.splice(at, 1).length === 1;
    })
  );
}

async function captureToWriteBack(
  db: JobContext['db'],
  blob: string | null,
): Promise<Facts['capture']> {
  if (!blob) throw new Error('a write-back from flux without a capture');
  const { header, tracks } = readContainer(await readBlob(db, blob), nodeDigester);
  const {
    drive: { tickHz, rpm },
  } = driveFacts(header, tracks);
  return { groups: groupByTrack(tracks), tickHz, rpm };
}

/** Writes and proves; what ended is certified before the job does, also where it ended before. */
export async function runWriteback(context: JobContext<'writeback'>): Promise<JobOutcome> {
  const { db, payload } = context;
  const outcome = await writeAndProve(context);
  const [row] = await db
    .select({ endedAt: writebacks.endedAt })
    .from(writebacks)
    .where(eq(writebacks.id, payload.writebackId));
  if (row?.endedAt) await sealCertificate(db, payload.writebackId);
  return outcome;
}

async function writeAndProve(context: JobContext<'writeback'>): Promise<JobOutcome> {
  const { db, payload } = context;
  const [found] = await db
    .select()
    .from(writebacks)
    .innerJoin(fairCopies, eq(fairCopies.id, writebacks.fairCopyId))
    .innerJoin(media, eq(media.id, writebacks.targetId))
    .innerJoin(stations, eq(stations.id, writebacks.stationId))
    .where(eq(writebacks.id, payload.writebackId));
  if (!found || ['proved', 'unproved', 'failed', 'asks'].includes(found.writebacks.state))
    return 'done';
  const facts: WritebackFacts = {
    row: found.writebacks,
    target: found.media,
    sourceId: found.fair_copies.mediumId,
  };
  const failed = async (now: Said): Promise<JobOutcome> => {
    await endWriteback(context, facts, 'failed', now);
    return 'done';
  };
  if (!found.media.isBlank || found.stations.mediumId !== found.media.id)
    return failed(
      said('writebacks.isNoLongerIn', { code: found.media.code, id: found.stations.id }),
    );
  if (isBlockForm(found.media.form))
    return runBlockWriteback(context, facts, found.stations.drive, found.fair_copies);
  const layout = await layoutOfCopy(db, found.fair_copies);
  if (!layout) return failed(said('writebacks.theImageHasNo'));
  const image = await readBlob(db, found.fair_copies.imageBlob);
  const capture =
    found.writebacks.from === 'flux'
      ? await captureToWriteBack(db, found.fair_copies.captureBlob)
      : null;
  return new WritebackRun(context, {
    ...facts,
    drive: found.stations.drive,
    layout,
    image,
    capture,
  }).run();
}
