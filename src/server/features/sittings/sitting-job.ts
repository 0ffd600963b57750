/**
 * Reads one medium: track by track by the plan, every track committed before the next is asked for.
 */
import { tell } from '@/messages/tell';
import { and, asc, eq, sql } from 'drizzle-orm';
import {
  encodeReading,
  encodeTrailer,
  ContainerWriter,
  type ContainerHeader,
} from '@/core/flux/container';
import { ContainerReader } from '@/core/flux/container-reader';
import type { TrackReading } from '@/core/flux/reading';
import { digestOfTrack } from '@/core/image/track-digests';
import { tracksOfImage, type Layout } from '@/core/layout/layout';
import { bestMatch, matchLayouts, type TrackEvidence } from '@/core/layout/match';
import { evidenceOf } from '@/core/reading/decode/decode-capture';
import { isSound } from '@/core/reading/grades';
import {
  afterReading,
  firstReading,
  nextStep,
  readingsLeft,
  type Step,
  type TrackProgress,
} from '@/core/reading/plan/plan';
import { previewLayout, previewOf, previewTracks } from '@/core/reading/plan/preview';
import {
  confirmsDirt,
  leavesDirt,
  detectDirtyHead,
  confirmDirtyHead,
  type FirstReading,
} from '@/core/reading/plan/head-care';
import { expectationAt } from '@/core/reading/decode/expectation';
import { marksOf, type SectorMark } from '@/core/reading/sector-mark';
import { settleTold, type ControllerTrack } from '@/core/reading/controller/controller-tracks';
import { toHex } from '@/core/digester';
import { TrackDecoder, type TrackDecode } from '@/core/reading/decode/track-decoder';
import type { TrackDriveDescription } from '@/benchlink/messages';
import { readsBlocks } from '@/core/drive-abilities';
import { nodeDigester } from '@/node/digester';
import { appendBlob, createBlob, sealBlob } from '@/server/platform/blobs/blob-store';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import { streamBlob } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import { media } from '../media/tables';
import { sittings, controllerTracks, trackReadings, tracks as tracksTable } from './tables';
import { stations } from '../stations/tables';
import { announce } from '@/server/platform/events';
import type { JobContext, JobOutcome } from '@/server/platform/jobs/engine';
import type { NewFairCopy } from '../copies/keeping/fair-copies';
import { keepSettled } from '../copies/keeping/keep-settled';
import { settleMedium } from '../copies/settling/settle-readings';
import { lastCylinderInUse } from './last-cylinder-in-use';
import { likenessOf } from '../holdings/alike';
import { allLayouts } from '../layouts/layouts';
import { note } from '../ledger/ledger';
import { BenchSession } from '@/server/platform/devices/bench-session';
import { runBlockSitting } from './block-sitting-job';
import { pauseSitting, setSittingState, tellSitting } from './sitting-state';
import { asWritten, said, type Said } from '@/core/said';

type Sitting = typeof sittings.$inferSelect;
type ReadStep = Extract<Step, { kind: 'read' }>;

/** Tracks after which the layout is taken as known. */
const TRACKS_TO_KNOW = 2;

class SittingRun {
  private readonly progress = new Map<number, TrackProgress>();
  private readonly evidence = new Map<number, TrackEvidence>();
  private readonly bench: BenchSession;
  private decoder: TrackDecoder | null = null;
  private layout: Layout | null = null;
  private stepping: 1 | 2;
  private layouts: readonly Layout[] = [];
  /**
   * When this run's first track was asked for, and how many came since: what the time left is
   * worked out from.
   */
  private firstAskedAt = 0;
  private cameSince = 0;
  /** First readings of this run, in the order taken, and a track among them that read well. */
  private history: FirstReading[] = [];
  /** Whether each reading again of this run made anything better. */
  private better: boolean[] = [];
  private readWell: { cylinder: number; head: number } | null = null;
  private description!: TrackDriveDescription;

  constructor(
    private readonly context: JobContext,
    private readonly sitting: Sitting,
    private readonly medium: typeof media.$inferSelect,
    private readonly station: typeof stations.$inferSelect,
  ) {
    this.stepping = sitting.stepping;
    this.bench = new BenchSession(
      station.drive,
      {
        held: (reason) => setSittingState(context.commit, sitting, 'held', reason, 'sitting-held'),
        back: () =>
          setSittingState(
            context.commit,
            sitting,
            'reading',
            said('platform.goingOnWhereIt'),
            'sitting-resumed',
          ),
        givenUp: async () => (await this.requestedAction()) !== null,
      },
      context.signal,
    );
  }

  async run(): Promise<JobOutcome> {
    try {
      for (const row of await this.context.db
        .select()
        .from(tracksTable)
        .where(eq(tracksTable.sittingId, this.sitting.id)))
        this.progress.set(row.cylinder * 2 + row.head, row.progress);
      // A worker died while it settled: the capture may be sealed, and nothing more is read.
      if (this.sitting.state === 'settling') return await this.settle();
      const description = await this.bench.trackDrive();
      if (description === null) return this.afterInterruption();
      if (!description) throw new Error(`the bench has no drive ${this.station.drive}`);
      this.description = description;
      const { tickHz, rpm } = description;
      this.layouts = await allLayouts(this.context.db);
      this.layout = this.layouts.find(({ id }) => id === this.sitting.layout) ?? null;
      // All turns: how often each sector reads is evidence that a page shows.
      this.decoder = new TrackDecoder({ tickHz, rpm }, 'all');
      await this.begin(description);
      for (;;) {
        if (this.context.signal.aborted) return 'again';
        const requestedAction = await this.requestedAction();
        if (requestedAction === 'pause') return this.pause();
        if (requestedAction === 'stop') return this.finish(said('sittings.stoppedByHand'));
        const { range } = this.sitting.policy;
        if (!range) {
          const first = previewTracks(description).find(
            ({ cylinder, head }) => !this.progress.has(cylinder * 2 + head),
          );
          if (first) {
            if (!(await this.readOne(firstReading(first, this.sitting.policy))))
              return this.afterInterruption();
          } else if (await this.preview(description)) return 'done';
          continue;
        }
        const step = nextStep([...this.progress.values()], { ...this.sitting.policy, range });
        if (step.kind === 'done') return this.finish(step.why);
        if (!(await this.readOne(step))) return this.afterInterruption();
        if (
          !this.sitting.headAskedAfter &&
          (detectDirtyHead(this.history) || confirmDirtyHead(this.better)) &&
          (await this.headIsDirty())
        )
          return 'done';
      }
    } finally {
      this.bench.close();
    }
  }

  /** Looks at what the first tracks showed; true where a person is asked how far to read. */
  private async preview(drive: TrackDriveDescription): Promise<boolean> {
    const { sitting, layouts } = this;
    const decoder = new TrackDecoder(drive, 'all');
    const readings: Readings[] = [];
    for (const { cylinder, head } of previewTracks(drive))
      readings.push(await this.earlierReadings(cylinder, head));
    const decode = (each: Readings, layout: Layout | null, stepping: 1 | 2) =>
      decodeReadings(decoder, each, layout, stepping, drive.rpm);
    const tracks = readings.map((each) => decode(each, null, 1));
    const input = { tracks, layouts, form: drive.form, drive };
    const match = previewLayout(input);
    const preview = previewOf(
      input,
      match && (await lastCylinderInUse(match.layout, match.stepping, tracks)),
    );
    this.layout = match?.layout ?? null;
    this.stepping = match?.stepping ?? 1;
    const { id, mediumId, stationId, startedBy, unattended } = sitting;
    // With the layout known, what it expects and these tracks lack counts as lost, and is read
    // again.
    const known = readings
      .map((each) => ({ track: decode(each, this.layout, this.stepping), first: each.flux[0] }))
      .filter(({ track }) => track.cylinder % this.stepping === 0);
    if (unattended) sitting.policy = { ...sitting.policy, range: preview.range };
    await this.context.commit(async (tx) => {
      await tx
        .update(sittings)
        .set({
          preview,
          policy: sitting.policy,
          layout: preview.layout,
          stepping: this.stepping,
          ...(!unattended && { state: 'asks', now: preview.sentence }),
        })
        .where(eq(sittings.id, id));
      // What lies between two cylinders was neighbours' ghosts.
      if (this.stepping === 2)
        await tx
          .delete(tracksTable)
          .where(and(eq(tracksTable.sittingId, id), sql`${tracksTable.cylinder} % 2 = 1`));
      for (const { track, first } of known)
        await this.keepTrack(
          tx,
          track,
          marksOf(track, first, drive),
          afterReading(null, track.cylinder, track.head, unsoundOf(track)),
        );
      await note(tx, {
        operatorId: startedBy,
        kind: 'sitting-preview',
        mediumId,
        stationId,
        sittingId: id,
        what: said('sittings.theFirstTracksShow', {
          shows: preview.shows,
        }),
      });
      await tellSitting(tx, this.sitting);
    });
    return !unattended;
  }

  private keepTrack(
    tx: Executor,
    { cylinder, head, sectors: decoded }: TrackDecode,
    sectors: SectorMark[],
    progress: TrackProgress,
  ): Promise<unknown> {
    const place =
      this.layout &&
      tracksOfImage(this.layout).find(
        (each) => each.cylinder * this.stepping === cylinder && each.head === head,
      );
    const digest =
      place && progress.unsound === 0 ? digestOfTrack(place, decoded, nodeDigester) : null;
    const values = { progress, sectors, digest, updatedAt: new Date() };
    this.progress.set(cylinder * 2 + head, progress);
    return tx
      .insert(tracksTable)
      .values({ sittingId: this.sitting.id, cylinder, head, ...values })
      .onConflictDoUpdate({
        target: [tracksTable.sittingId, tracksTable.cylinder, tracksTable.head],
        set: values,
      });
  }

  private async requestedAction(): Promise<'pause' | 'stop' | null> {
    const [row] = await this.context.db
      .select({ requestedAction: sittings.requestedAction })
      .from(sittings)
      .where(eq(sittings.id, this.sitting.id));
    return row?.requestedAction ?? null;
  }

  private async afterInterruption(): Promise<JobOutcome> {
    if (this.context.signal.aborted) return 'again';
    if ((await this.requestedAction()) === 'stop')
      return this.finish(said('sittings.stoppedByHand'));
    return this.pause();
  }

  /** Makes the capture on the first run; on a later one it is there. */
  private async begin(drive: TrackDriveDescription): Promise<void> {
    const { sitting } = this;
    await this.context.commit(async (tx) => {
      const set: Partial<Sitting> = { state: 'reading' };
      if (!sitting.captureBlob && drive.delivers === 'flux') {
        set.captureBlob = sitting.captureBlob = await createBlob(tx);
        const { tickHz, form, rpm, cylinders, heads } = drive;
        const header: ContainerHeader = {
          tickHz,
          form,
          rpm,
          cylinders,
          heads,
          label: `${this.medium.code} ${this.medium.title}`,
          created: new Date().toISOString(),
        };
        await appendBlob(tx, sitting.captureBlob, new ContainerWriter(nodeDigester).header(header));
      }
      await tx.update(sittings).set(set).where(eq(sittings.id, sitting.id));
      await tellSitting(tx, this.sitting);
    });
  }

  /** Reads one track and commits it; false when the sitting was interrupted. */
  private async readOne(step: ReadStep): Promise<boolean> {
    const { cylinder, head, pass } = step;
    this.firstAskedAt ||= Date.now();
    const fresh = await this.fetch(step);
    if (!fresh) return false;
    const all = pass > 1 ? withFresh(await this.earlierReadings(cylinder, head), fresh) : fresh;
    const decoded = decodeReadings(
      this.decoder!,
      all,
      this.layout,
      this.stepping,
      this.description.rpm,
    );
    this.learnLayout(decoded);
    const unsound = unsoundOf(decoded);
    const key = cylinder * 2 + head;
    const before = this.progress.get(key) ?? null;
    const progress = afterReading(before, cylinder, head, unsound);
    this.countOutcome(pass, decoded, progress);
    const marks = marksOf(decoded, all.flux[0], this.description);
    const perReading = (Date.now() - this.firstAskedAt) / ++this.cameSince;
    const secondsLeft = Math.round(
      (readingsLeft([...this.progress.values()], this.sitting.policy) * perReading) / 1000,
    );
    const { id, stationId, mediumId } = this.sitting;
    await this.context.commit(async (tx) => {
      await this.keepReading(tx, step, fresh);
      await this.keepTrack(tx, decoded, marks, progress);
      const duplicateMatch =
        unsound === 0
          ? await likenessOf(tx, { sittingId: id, mediumId, stepping: this.stepping })
          : undefined;
      await tx
        .update(sittings)
        .set({
          now: step.why,
          state: 'reading',
          layout: this.layout?.id ?? null,
          stepping: this.stepping,
          ...(duplicateMatch !== undefined && { duplicateMatch }),
        })
        .where(eq(sittings.id, id));
      const what = outcome(cylinder, head, before, decoded, progress);
      if (what)
        await note(tx, {
          operatorId: this.sitting.startedBy,
          kind: 'track',
          mediumId,
          stationId,
          sittingId: id,
          what,
        });
      await announce(tx, {
        kind: 'track',
        sittingId: id,
        stationId,
        cylinder,
        head,
        tries: progress.tries,
        sectors: marks,
        now: tell(step.why),
        layout: this.layout?.id ?? null,
        secondsLeft,
        ...(duplicateMatch !== undefined && { duplicateMatch }),
      });
    });
    return true;
  }

  /** What the suspicion of a dirty head rests on. */
  private countOutcome(pass: number, decoded: TrackDecode, progress: TrackProgress): void {
    if (pass > 1) {
      this.better.push(progress.sinceBetter === 0);
      return;
    }
    const { cylinder, head, sectors } = decoded;
    const unsound = unsoundOf(decoded);
    this.history.push({ unsound, sectors: sectors.length });
    if (unsound === 0 && sectors.length > 0) this.readWell = { cylinder, head };
  }

  /** One reading from the drive, in the kind that it delivers. */
  private async fetch({
    cylinder,
    head,
    pass,
    revolutions,
    approach,
  }: Omit<ReadStep, 'kind' | 'why'>): Promise<Readings | null> {
    if (this.description.delivers === 'sectors') {
      const controller = await this.bench.do((link) =>
        link.readSectors(
          this.station.drive,
          { cylinder, head, pass, approach },
          this.context.signal,
        ),
      );
      return controller && { flux: [], controller: [controller] };
    }
    const reading = await this.bench.do((link) =>
      link.readTrack(
        this.station.drive,
        { cylinder, head, pass, revolutions, approach },
        this.context.signal,
      ),
    );
    return reading && { flux: [reading], controller: [] };
  }

  private async keepReading(
    tx: Executor,
    { cylinder, head, pass }: Pick<ReadStep, 'cylinder' | 'head' | 'pass'>,
    { flux: [reading], controller: [toldTrack] }: Readings,
  ): Promise<void> {
    const { id, stationId, captureBlob } = this.sitting;
    if (reading) {
      const bytes = encodeReading(reading);
      const offset = await appendBlob(tx, captureBlob!, bytes);
      await tx
        .insert(trackReadings)
        .values({ sittingId: id, cylinder, head, pass, offset, length: bytes.length });
    }
    if (toldTrack) {
      const { data, ...controller } = toldTrack;
      await tx
        .insert(controllerTracks)
        .values({ sittingId: id, cylinder, head, pass, controller, data });
    }
    // Counted with each reading: a sitting that is put aside, or goes on after a cleaning, has left
    // its dirt all the same.
    const sheds = Number(leavesDirt(this.medium.marks));
    await tx
      .update(stations)
      .set({
        readingsSinceCleaning: sql`${stations.readingsSinceCleaning} + 1`,
        sheddingSinceCleaning: sql`${stations.sheddingSinceCleaning} + ${sheds}`,
      })
      .where(eq(stations.id, stationId));
  }

  /**
   * The last tracks failed as they do under a dirty head. A track that read well is read once
   * more: if it fails now, the
   * sitting rests until the head is clean; true then. If it reads as before, it is the disk, and
   * the sitting goes on.
   */
  private async headIsDirty(): Promise<boolean> {
    const { sitting } = this;
    const { id, mediumId, stationId, startedBy, policy } = sitting;
    // Nothing read well yet that could tell one from the other: a person looks.
    let dirty = true;
    // A fragile medium is not read once more to spare a person a look at the head.
    if (this.readWell && !policy.gentle) {
      const pass = this.progress.get(this.readWell.cylinder * 2 + this.readWell.head)!.tries + 1;
      const control = await this.fetch({
        ...this.readWell,
        pass,
        revolutions: policy.revolutions,
        approach: 'plain',
      });
      if (!control) return false;
      const decoded = decodeReadings(
        this.decoder!,
        control,
        this.layout,
        this.stepping,
        this.description.rpm,
      );
      dirty = confirmsDirt({ unsound: unsoundOf(decoded), sectors: decoded.sectors.length });
      await this.context.commit((tx) => this.keepReading(tx, { ...this.readWell!, pass }, control));
    }
    // Looked at now: it takes as many readings again until it is suspected once more.
    this.history = [];
    this.better = [];
    const now = said('sittings.theHeadOfStation', {
      stationId,
      readWell: policy.gentle ? null : (this.readWell?.cylinder ?? null),
    });
    await this.context.commit(async (tx) => {
      if (dirty) await tx.update(sittings).set({ state: 'dirty', now }).where(eq(sittings.id, id));
      await note(tx, {
        operatorId: startedBy,
        kind: 'head-dirty',
        mediumId,
        stationId,
        sittingId: id,
        what: dirty
          ? now
          : said('sittings.tracksFailOneAfter', { cylinder: this.readWell!.cylinder }),
      });
      await tellSitting(tx, this.sitting);
    });
    return dirty;
  }

  /** What was read of this track before: flux from the capture, and what a drive told. */
  private async earlierReadings(cylinder: number, head: number): Promise<Readings> {
    const { db } = this.context;
    const { id, captureBlob } = this.sitting;
    const [rows, toldRows] = await Promise.all([
      db
        .select()
        .from(trackReadings)
        .where(
          and(
            eq(trackReadings.sittingId, id),
            eq(trackReadings.cylinder, cylinder),
            eq(trackReadings.head, head),
          ),
        )
        .orderBy(asc(trackReadings.id)),
      db
        .select()
        .from(controllerTracks)
        .where(
          and(
            eq(controllerTracks.sittingId, id),
            eq(controllerTracks.cylinder, cylinder),
            eq(controllerTracks.head, head),
          ),
        )
        .orderBy(asc(controllerTracks.id)),
    ]);
    const flux: TrackReading[] = [];
    for (const { offset, length } of rows) {
      const reader = new ContainerReader((reading) => flux.push(reading), null);
      for await (const part of streamBlob(db, captureBlob!, offset, offset + length))
        reader.push(part);
      reader.end();
    }
    return { flux, controller: toldRows.map(({ controller, data }) => ({ ...controller, data })) };
  }

  private learnLayout(decoded: TrackDecode): void {
    // Before the first tracks were all looked at, how the drive steps is not known.
    if (this.layout || !this.sitting.policy.range) return;
    this.evidence.set(decoded.cylinder * 2 + decoded.head, evidenceOf(decoded));
    const formatted = [...this.evidence.values()].filter(({ found }) => found.length > 0);
    if (formatted.length < TRACKS_TO_KNOW) return;
    const match = bestMatch(matchLayouts(this.layouts, this.description.form, formatted));
    this.layout = match?.layout ?? null;
    this.stepping = match?.stepping ?? 1;
  }

  private pause(): Promise<JobOutcome> {
    return pauseSitting(
      this.context.commit,
      this.sitting,
      said('sittings.pausedTracksAreKept', { progress: this.progress.size }),
    );
  }

  private async finish(why: Said): Promise<JobOutcome> {
    this.sitting.endedWhy = why;
    await this.context.commit(async (tx) => {
      await tx
        .update(sittings)
        .set({
          state: 'settling',
          now: said('sittings.settlingTheFairCopyFrom'),
          endedWhy: why,
        })
        .where(eq(sittings.id, this.sitting.id));
      await tellSitting(tx, this.sitting);
    });
    return this.settle();
  }

  private async settle(): Promise<JobOutcome> {
    const { sitting, context } = this;
    await sealCapture(context, sitting);
    await keepSettled(
      context,
      sitting.mediumId,
      () => this.settledCopy(),
      (tx, copy) => this.end(tx, copy?.settled?.layout.id ?? null),
    );
    return 'done';
  }

  /** What every reading of the medium comes to; null where no sector was found. */
  private async settledCopy(): Promise<NewFairCopy | null> {
    const { sitting, medium, station } = this;
    if (this.progress.size === 0) return null;
    const settled = await settleMedium(this.context.db, medium.id, {
      code: medium.code,
      title: medium.title,
      label: medium.labelText,
      lender: medium.lender,
      drive: `${station.model}, ${station.serial}`,
    });
    return (
      settled && {
        operatorId: sitting.startedBy,
        mediumId: medium.id,
        source: 'sitting',
        image: settled.image,
        settled,
        captureBlob: sitting.captureBlob,
        problems: settled.problems,
        sittingId: sitting.id,
        stationId: station.id,
      }
    );
  }

  /** The sitting is over: with a copy that follows a layout, or with none. */
  private async end(tx: Executor, layout: string | null): Promise<void> {
    const { id, endedWhy, layout: before } = this.sitting;
    const why = endedWhy ?? asWritten('');
    await tx
      .update(sittings)
      .set({
        state: 'done',
        now: layout ? why : said('sittings.noSectorOfAny', { why }),
        requestedAction: null,
        endedAt: new Date(),
        layout: layout ?? before,
      })
      .where(eq(sittings.id, id));
    await tellSitting(tx, this.sitting);
  }
}

/** Ends a sitting's capture with its trailer and fixes its digest; once. */
async function sealCapture(
  { db, commit }: JobContext,
  { id, captureBlob }: Sitting,
): Promise<void> {
  if (!captureBlob || (await blobOf(db, captureBlob)).sha256) return;
  // Of what stands before the trailer, which says it, and of all.
  const [before, whole] = [nodeDigester.sha256Stream(), nodeDigester.sha256Stream()];
  for await (const part of streamBlob(db, captureBlob)) {
    before.update(part);
    whole.update(part);
  }
  const [{ count } = { count: 0 }] = await db
    .select({ count: sql<number>`count(*)::int` })
    .from(trackReadings)
    .where(eq(trackReadings.sittingId, id));
  const trailer = encodeTrailer(count, before.digest());
  whole.update(trailer);
  await commit(async (tx) => {
    await appendBlob(tx, captureBlob, trailer);
    await sealBlob(tx, captureBlob, toHex(whole.digest()));
  });
}

/** Readings of one track: flux, or what a drive told. */
interface Readings {
  flux: TrackReading[];
  controller: ControllerTrack[];
}

const withFresh = (earlier: Readings, fresh: Readings): Readings => ({
  flux: [...earlier.flux, ...fresh.flux],
  controller: [...earlier.controller, ...fresh.controller],
});

function decodeReadings(
  decoder: TrackDecoder,
  { flux, controller }: Readings,
  layout: Layout | null,
  stepping: 1 | 2,
  rpm: number,
): TrackDecode {
  if (flux.length > 0) return decoder.decode(flux, layout, { stepping });
  const { cylinder, head } = controller[0]!;
  return settleTold(controller, layout && expectationAt(layout, stepping, cylinder, head), rpm);
}

const unsoundOf = ({ sectors }: TrackDecode) =>
  sectors.filter(({ grade }) => !isSound(grade)).length;

const list = (numbers: readonly number[]) =>
  numbers.length > 4
    ? said('sittings.sectors', { numbers: numbers.length })
    : `sector${numbers.length > 1 ? 's' : ''} ${numbers.join(', ')}`;

/** A sentence for the ledger where a reading brought news; null for a track that simply read. */
function outcome(
  cylinder: number,
  head: number,
  before: TrackProgress | null,
  { sectors }: TrackDecode,
  { unsound, tries }: TrackProgress,
): Said | null {
  const place = said('sittings.cylinderHead', { cylinder, head });
  const failed = sectors.filter(({ grade }) => !isSound(grade)).map(({ r }) => r);
  if (!before)
    return unsound > 0 ? said('sittings.notReadWithA', { place, failed: list(failed) }) : null;
  if (unsound === 0) return said('sittings.everySectorSoundAt', { place, tries });
  return unsound < before.unsound
    ? said('sittings.moreSoundStillNot', {
        place,
        unsound: before.unsound - unsound,
        failed: list(failed),
      })
    : null;
}

export async function runSitting(context: JobContext<'sitting'>): Promise<JobOutcome> {
  const [row] = await context.db
    .select()
    .from(sittings)
    .innerJoin(media, eq(media.id, sittings.mediumId))
    .innerJoin(stations, eq(stations.id, sittings.stationId))
    .where(eq(sittings.id, context.payload.sittingId));
  if (!row || row.sittings.state === 'done') return 'done';
  if (readsBlocks(row.stations.abilities))
    return runBlockSitting(context, row.sittings, row.media, row.stations);
  return new SittingRun(context, row.sittings, row.media, row.stations).run();
}
