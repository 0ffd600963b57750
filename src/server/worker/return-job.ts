/** Writes an image to a blank, track by track, and proves each track by reading it back. */
import { eq } from 'drizzle-orm';
import { readContainer } from '@/core/flux/container-reader';
import type { TrackReading } from '@/core/flux/reading';
import { firstTurn, perfectReading, type TurnTransitions } from '@/core/flux/synthesis';
import { flatTrack } from '@/core/image/flat';
import { layTrack } from '@/core/layout/lay-track';
import { tracksOfImage, type Layout } from '@/core/layout/layout';
import { driveFacts, groupByTrack } from '@/core/reading/decode-capture';
import type { TrackSector } from '@/core/reading/merge';
import { markOf } from '@/core/reading/sector-mark';
import { TrackDecoder, type TrackDecode } from '@/core/reading/track-decoder';
import type { DeviceLink } from '@/benchlink/device-link';
import { readBlob } from '../blobs/blob-store';
import { fairCopies, media, returnTracks, returns, stations } from '../db/schema';
import { announce } from '../events';
import type { JobContext, JobOutcome } from '../jobs/runner';
import { nodeDigester } from '@/node/digester';
import { layoutOfCopy } from '../services/layouts';
import { note } from '../services/ledger';
import type { ReturnState } from '../states';
import { BenchSession } from './bench-session';

/** Writings of one track before it is given up. */
const TRIES = 3;

interface Facts {
  row: typeof returns.$inferSelect;
  target: typeof media.$inferSelect;
  sourceId: number;
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
  turn: TurnTransitions;
  wanted: readonly { r: number; data: Uint8Array | null }[];
}

class ReturnRun {
  private readonly bench: BenchSession;

  constructor(private readonly context: JobContext, private readonly facts: Facts) {
    this.bench = new BenchSession(facts.drive, {
      held: (reason) => this.setState('held', reason),
      back: () => this.setState('writing', 'Going on where it was'),
      givenUp: async () => false,
    }, context.signal);
  }

  async run(): Promise<JobOutcome> {
    try {
      const { row } = this.facts;
      const done = await this.context.db.select().from(returnTracks).where(eq(returnTracks.returnId, row.id));
      const drive = await this.bench.trackDrive();
      if (!drive) return 'again';
      const decoder = new TrackDecoder(drive, 'all');
      if (done.length === 0 && !row.overwrite) {
        const found = await this.bench.do((link) => this.lookAtTarget(link, decoder));
        if (found === null) return 'again';
        if (found > 0) return this.ask(found);
      }
      let unproved = done.filter(({ proved }) => !proved).length;
      const settled = new Set(done.map(({ cylinder, head }) => cylinder * 2 + head));
      let written = settled.size;
      for (const track of this.tracksToWrite(settled)) {
        const proved = await this.writeTrack(track, decoder, drive);
        if (proved === null) return 'again';
        if (!proved) unproved++;
        written++;
      }
      await this.end(unproved, written);
      return 'done';
    } finally {
      this.bench.close();
    }
  }

  /** Sectors that the first tracks of the target hold already. */
  private async lookAtTarget(link: DeviceLink, decoder: TrackDecoder): Promise<number> {
    let found = 0;
    for (const [cylinder, head] of [[0, 0], [0, 1], [1, 0]] as const) {
      const reading = await link.readTrack(this.facts.drive, { cylinder, head, pass: 0, revolutions: 1, approach: 'plain' }, this.context.signal);
      found += decoder.decode([reading], null).sectors.length;
    }
    return found;
  }

  /** Writes and reads back one track, a few times if it must; null when the worker stops. */
  private async writeTrack({ cylinder, head, turn: transitions, wanted }: TrackToWrite, decoder: TrackDecoder, drive: { tickHz: number; rpm: number }): Promise<boolean | null> {
    const { layout, capture } = this.facts;
    const turn = perfectReading(transitions, { cylinder, head, pass: 0 }, (drive.tickHz * 60) / drive.rpm, 1);
    for (let tries = 1; ; tries++) {
      const decoded = await this.bench.do(async (link) => {
        await link.writeTrack(this.facts.drive, turn, this.context.signal);
        const back = await link.readTrack(this.facts.drive, { cylinder, head, pass: tries, revolutions: 2, approach: 'plain' }, this.context.signal);
        return decoder.decode([back], capture ? null : layout);
      });
      if (!decoded) return null;
      const proved = isProved(decoded, wanted);
      if (proved || tries === TRIES) {
        await this.keep(cylinder, head, proved, tries, decoded);
        return proved;
      }
    }
  }

  /** Tracks still to be written: laid out anew from the image, or as the capture has them. */
  private* tracksToWrite(settled: ReadonlySet<number>): Generator<TrackToWrite> {
    const { layout, image, capture } = this.facts;
    if (!capture) {
      for (const { cylinder, head } of [...tracksOfImage(layout)].sort((a, b) => a.cylinder - b.cylinder || a.head - b.head)) {
        if (settled.has(cylinder * 2 + head)) continue;
        const wanted = flatTrack(layout, image, cylinder, head);
        yield { cylinder, head, turn: layTrack(layout, cylinder, head, wanted), wanted };
      }
      return;
    }
    const decoder = new TrackDecoder(capture, 'all');
    for (const group of capture.groups) {
      const { cylinder, head } = group[0]!;
      const turn = settled.has(cylinder * 2 + head) ? null : firstTurn(group[0]!, capture.tickHz);
      if (turn) yield { cylinder, head, turn, wanted: decoder.decode([group[0]!], null).sectors.map(({ r, data, grade }) => ({ r, data: grade === 'firm' ? data : null })) };
    }
  }

  private async keep(cylinder: number, head: number, proved: boolean, tries: number, decoded: TrackDecode): Promise<void> {
    const { row } = this.facts;
    await this.context.commit(async (tx) => {
      await tx.insert(returnTracks).values({ returnId: row.id, cylinder, head, proved, tries, sectors: decoded.sectors.map((sector) => markOf(sector)) });
      await tx.update(returns).set({ state: 'writing', now: `Written and read back up to cylinder ${cylinder}, head ${head}` }).where(eq(returns.id, row.id));
      await announce(tx, { kind: 'return-track', returnId: row.id, cylinder, head, proved });
    });
  }

  private async ask(found: number): Promise<JobOutcome> {
    const { row, target } = this.facts;
    await this.setState('asks', `${target.code} is not blank: its first tracks hold ${found} sectors. Nothing was written.`);
    await this.context.commit((tx) => note(tx, { operatorId: row.startedBy, kind: 'return-asked', mediumId: target.id, stationId: row.stationId, returnId: row.id, what: `${target.code} is not blank: ${found} sectors on its first tracks. Nothing was written.` }));
    return 'done';
  }

  private async end(unproved: number, all: number): Promise<void> {
    const { row, target, sourceId } = this.facts;
    const now = unproved === 0
      ? `Proved: all ${all} tracks were read back and every sector is what was written.`
      : `Not proved: ${unproved} of ${all} tracks did not read back as written. Try another blank.`;
    await this.context.commit(async (tx) => {
      await tx.update(returns).set({ state: unproved === 0 ? 'proved' : 'unproved', now, endedAt: new Date() }).where(eq(returns.id, row.id));
      await note(tx, { operatorId: row.startedBy, kind: 'return-ended', mediumId: sourceId, stationId: row.stationId, returnId: row.id, what: `Return to ${target.code}: ${now}` });
      await announce(tx, { kind: 'return', returnId: row.id, stationId: row.stationId });
    });
  }

  private async setState(state: ReturnState, now: string): Promise<void> {
    const { row } = this.facts;
    await this.context.commit(async (tx) => {
      await tx.update(returns).set({ state, now }).where(eq(returns.id, row.id));
      await announce(tx, { kind: 'return', returnId: row.id, stationId: row.stationId });
    });
  }
}

/** Reads back as it was meant to: sound and with the same bytes, or, where the original had no right check, without one again. */
function readsBackAs(back: TrackSector | undefined, data: Uint8Array | null): boolean {
  if (!data) return back?.grade === 'doubtful';
  return back?.grade === 'firm' && back.data !== null && Buffer.compare(back.data, data) === 0;
}

/** Every sector that was written reads back in the first reading, and nothing else does. */
function isProved({ sectors }: TrackDecode, wanted: TrackToWrite['wanted']): boolean {
  const left = [...sectors];
  return sectors.length === wanted.length && wanted.every(({ r, data }) => {
    const at = left.findIndex((sector) => sector.r === r && readsBackAs(sector, data));
    return at >= 0 && left.splice(at, 1).length === 1;
  });
}

async function captureToReturn(db: JobContext['db'], blob: string | null): Promise<Facts['capture']> {
  if (!blob) throw new Error('a return from flux without a capture');
  const { header, tracks } = readContainer(await readBlob(db, blob), nodeDigester);
  const { drive: { tickHz, rpm } } = driveFacts(header, tracks);
  return { groups: groupByTrack(tracks), tickHz, rpm };
}

export async function runReturn(context: JobContext): Promise<JobOutcome> {
  const { db, subject } = context;
  const [found] = await db.select().from(returns).innerJoin(fairCopies, eq(fairCopies.id, returns.fairCopyId)).innerJoin(media, eq(media.id, returns.targetId))
    .innerJoin(stations, eq(stations.id, returns.stationId)).where(eq(returns.id, subject));
  if (!found || ['proved', 'unproved', 'failed', 'asks'].includes(found.returns.state)) return 'done';
  const layout = await layoutOfCopy(db, found.fair_copies);
  const isTarget = found.media.isBlank && found.stations.mediumId === found.media.id;
  if (!layout || !isTarget) {
    const now = layout ? `${found.media.code} is no longer in station ${found.stations.id}, or is no blank. Nothing more was written.` : 'The image has no layout that can be written.';
    await context.commit((tx) => tx.update(returns).set({ state: 'failed', now, endedAt: new Date() }).where(eq(returns.id, subject)));
    return 'done';
  }
  const image = await readBlob(db, found.fair_copies.imageBlob);
  const capture = found.returns.from === 'flux' ? await captureToReturn(db, found.fair_copies.captureBlob) : null;
  return new ReturnRun(context, { row: found.returns, target: found.media, sourceId: found.fair_copies.mediumId, drive: found.stations.drive, layout, image, capture }).run();
}
