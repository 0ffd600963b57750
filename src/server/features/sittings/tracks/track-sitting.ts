/**
 * Reads one medium track by track, by the plan; every track is committed before the next is asked
 * for.
 */
import { and, eq, sql } from 'drizzle-orm';
import type { TrackDriveDescription } from '@/benchlink/messages';
import { said, type Said } from '@/core/said';
import type { Layout } from '@/core/layout/layout';
import { bestMatch, matchLayouts, type TrackEvidence } from '@/core/layout/match';
import { evidenceOf } from '@/core/reading/decode/decode-capture';
import { TrackDecoder, type TrackDecode } from '@/core/reading/decode/track-decoder';
import { confirmsDirt } from '@/core/reading/plan/head-care';
import {
  afterReading,
  firstReading,
  nextStep,
  readingsLeft,
  type Range,
  type Step,
  type TrackProgress,
} from '@/core/reading/plan/plan';
import { previewLayout, previewOf, previewTracks } from '@/core/reading/plan/preview';
import { marksOf, type SectorMark } from '@/core/reading/sector-mark';
import { tell } from '@/messages/tell';
import type { Executor } from '@/server/platform/db/database';
import { announce } from '@/server/platform/events';
import type { JobOutcome } from '@/server/platform/jobs/engine';
import { keepSettled } from '../../copies/keeping/keep-settled';
import { likenessOf } from '../../holdings/alike';
import { allLayouts } from '../../layouts/layouts';
import { decodeReadings, newsOf, unsoundOf, withFresh, type Readings } from './decoded-readings';
import { fetchReading, type AskedReading } from './fetch-reading';
import { HeadWatch } from './head-watch';
import { lastCylinderInUse } from './last-cylinder-in-use';
import { settledCopy, watchOfSettling } from '../settled-copy';
import { Interrupted, SittingRun, type Sitting } from '../sitting-run';
import { sittings, tracks as tracksTable } from '../tables';
import { beginCapture, earlierReadings, keepReading, keepTrack, sealCapture } from './track-store';

type ReadStep = Extract<Step, { kind: 'read' }>;

/** Tracks after which the layout is taken as known. */
const TRACKS_TO_KNOW = 2;

export class TrackSitting extends SittingRun {
  private readonly progress = new Map<number, TrackProgress>();
  private readonly evidence = new Map<number, TrackEvidence>();
  private readonly watch = new HeadWatch();
  private decoder!: TrackDecoder;
  private drive!: TrackDriveDescription;
  private layout: Layout | null = null;
  private stepping: 1 | 2 = this.sitting.stepping;
  private layouts: readonly Layout[] = [];
  /**
   * When this run's first track was asked for, and how many came since: what the time left is
   * worked out from.
   */
  private firstAskedAt = 0;
  private cameSince = 0;

  protected async prepare(): Promise<void> {
    const rows = await this.context.db
      .select()
      .from(tracksTable)
      .where(eq(tracksTable.sittingId, this.sitting.id));
    for (const { cylinder, head, progress } of rows)
      this.progress.set(cylinder * 2 + head, progress);
  }

  protected async read(): Promise<JobOutcome> {
    const drive = await this.bench.trackDrive();
    if (drive === null) throw new Interrupted();
    if (!drive) throw new Error(`the bench has no drive ${this.station.drive}`);
    this.drive = drive;
    this.layouts = await allLayouts(this.context.db);
    this.layout = this.layouts.find(({ id }) => id === this.sitting.layout) ?? null;
    // All turns: how often each sector reads is evidence that a page shows.
    this.decoder = new TrackDecoder(drive, 'all');
    await this.begin();
    for (;;) {
      const outcome = (await this.asked()) ?? (await this.step());
      if (outcome) return outcome;
    }
  }

  /** The next track, or what is done where there is none; null to go on. */
  private async step(): Promise<JobOutcome | null> {
    const { range } = this.sitting.policy;
    return range ? this.planned(range) : this.first();
  }

  private async first(): Promise<JobOutcome | null> {
    const place = previewTracks(this.drive).find(
      ({ cylinder, head }) => !this.progress.has(cylinder * 2 + head),
    );
    if (!place) return (await this.preview()) ? 'done' : null;
    await this.readOne(firstReading(place, this.sitting.policy));
    return null;
  }

  private async planned(range: Range): Promise<JobOutcome | null> {
    const step = nextStep([...this.progress.values()], { ...this.sitting.policy, range });
    if (step.kind === 'done') return this.finish(step.why);
    await this.readOne(step);
    const isDirty =
      !this.sitting.headAskedAfter && this.watch.isSuspicious() && (await this.headIsDirty());
    return isDirty ? 'done' : null;
  }

  /** Makes the capture on the first run; on a later one it is there. */
  private async begin(): Promise<void> {
    const { sitting, drive } = this;
    await this.context.commit(async (tx) => {
      const isNew = !sitting.captureBlob && drive.delivers === 'flux';
      if (isNew) sitting.captureBlob = await beginCapture(tx, drive, this.medium);
      await this.set(tx, {
        state: 'reading',
        ...(isNew && { captureBlob: sitting.captureBlob }),
      });
    });
  }

  /** Looks at what the first tracks show; true where a person is asked how far to read. */
  private async preview(): Promise<boolean> {
    const { sitting, drive, layouts } = this;
    const decoder = new TrackDecoder(drive, 'all');
    const readings: Readings[] = [];
    for (const { cylinder, head } of previewTracks(drive))
      readings.push(await earlierReadings(this.context.db, sitting, cylinder, head));
    const decode = (each: Readings, layout: Layout | null, stepping: 1 | 2) =>
      decodeReadings(decoder, each, layout, stepping, drive.rpm);
    const tracks = readings.map((each) => decode(each, null, 1));
    const input = { tracks, layouts, form: drive.form, drive };
    const match = previewLayout(input);
    const last = match && (await lastCylinderInUse(match.layout, match.stepping, tracks));
    this.layout = match?.layout ?? null;
    this.stepping = match?.stepping ?? 1;
    // With the layout known, what it expects and these tracks lack counts as lost, and is read
    // again.
    const known = readings
      .map((each) => ({ track: decode(each, this.layout, this.stepping), first: each.flux[0] }))
      .filter(({ track }) => track.cylinder % this.stepping === 0);
    return this.keepPreview(previewOf(input, last), known);
  }

  private async keepPreview(
    preview: ReturnType<typeof previewOf>,
    known: readonly { track: TrackDecode; first: Readings['flux'][number] | undefined }[],
  ): Promise<boolean> {
    const { sitting, stepping } = this;
    const asks = !sitting.unattended;
    if (!asks) sitting.policy = { ...sitting.policy, range: preview.range };
    await this.context.commit(async (tx) => {
      // What lies between two cylinders was neighbours' ghosts.
      if (stepping === 2)
        await tx
          .delete(tracksTable)
          .where(and(eq(tracksTable.sittingId, sitting.id), sql`${tracksTable.cylinder} % 2 = 1`));
      for (const { track, first } of known) {
        const progress = afterReading(
          null,
          track,
          unsoundOf(track),
          firstReading(track, sitting.policy),
        );
        await this.keep(tx, track, marksOf(track, first, this.drive), progress);
      }
      const { shows, layout } = preview;
      await this.note(tx, 'sitting-preview', said('sittings.theFirstTracksShow', { shows }));
      await this.set(tx, {
        preview,
        policy: sitting.policy,
        layout,
        stepping,
        ...(asks && { state: 'asks', now: preview.sentence }),
      });
    });
    return asks;
  }

  /** Reads one track and commits it. */
  private async readOne(step: ReadStep): Promise<void> {
    const { cylinder, head, pass } = step;
    this.firstAskedAt ||= Date.now();
    const fresh = await this.fetch(step);
    const { db } = this.context;
    const all =
      pass > 1 ? withFresh(await earlierReadings(db, this.sitting, cylinder, head), fresh) : fresh;
    const decoded = this.decode(all);
    this.learnLayout(decoded);
    const before = this.progress.get(cylinder * 2 + head) ?? null;
    const progress = afterReading(before, step, unsoundOf(decoded), step);
    this.watch.count(pass, decoded, progress);
    const marks = marksOf(decoded, all.flux[0], this.drive);
    const secondsLeft = this.secondsLeft();
    await this.context.commit(async (tx) => {
      await keepReading(tx, this.sitting, this.medium.marks, step, fresh);
      await this.keep(tx, decoded, marks, progress);
      const likeness = await this.likeness(tx, decoded);
      await this.setReading(tx, step.why, likeness);
      const news = newsOf(cylinder, head, before, decoded, progress);
      if (news) await this.note(tx, 'track', news);
      await announce(tx, {
        kind: 'track',
        sittingId: this.sitting.id,
        stationId: this.sitting.stationId,
        cylinder,
        head,
        tries: progress.tries,
        sectors: marks,
        now: tell(step.why),
        layout: this.layout?.id ?? null,
        secondsLeft,
        ...likeness,
      });
    });
  }

  /** What was read before that this looks like; nothing is said of a track that is not sound. */
  private async likeness(
    tx: Executor,
    decoded: TrackDecode,
  ): Promise<Pick<Partial<Sitting>, 'duplicateMatch'>> {
    if (unsoundOf(decoded) > 0) return {};
    const { id: sittingId, mediumId } = this.sitting;
    return {
      duplicateMatch: await likenessOf(tx, { sittingId, mediumId, stepping: this.stepping }),
    };
  }

  /** Told with the track's own event: the sitting as a whole is not asked for anew. */
  private async setReading(tx: Executor, now: Said, likeness: object): Promise<void> {
    const layout = this.layout?.id ?? null;
    await tx
      .update(sittings)
      .set({ now, state: 'reading', layout, stepping: this.stepping, ...likeness })
      .where(eq(sittings.id, this.sitting.id));
  }

  private secondsLeft(): number {
    const perReading = (Date.now() - this.firstAskedAt) / ++this.cameSince;
    const left = readingsLeft([...this.progress.values()], this.sitting.policy);
    return Math.round((left * perReading) / 1000);
  }

  private decode(readings: Readings): TrackDecode {
    return decodeReadings(this.decoder, readings, this.layout, this.stepping, this.drive.rpm);
  }

  private keep(
    tx: Executor,
    track: TrackDecode,
    sectors: SectorMark[],
    progress: TrackProgress,
  ): Promise<unknown> {
    this.progress.set(track.cylinder * 2 + track.head, progress);
    const { layout, stepping } = this;
    return keepTrack(tx, this.sitting.id, track, { layout, stepping }, { sectors, progress });
  }

  private async fetch(asked: AskedReading): Promise<Readings> {
    const told = await fetchReading(this.bench, this.station.drive, this.drive.delivers, asked, {
      signal: this.context.signal,
    });
    if (!told) throw new Interrupted();
    return told;
  }

  /**
   * The last tracks failed as they do under a dirty head. A track that read well is read once more:
   * if it fails now, the sitting rests until the head is clean; true then. If it reads as before, it
   * is the disk, and the sitting goes on.
   */
  private async headIsDirty(): Promise<boolean> {
    const { policy, stationId } = this.sitting;
    const { readWell } = this.watch;
    // Nothing read well yet that could tell one from the other: a person looks. And a fragile medium
    // is not read once more to spare a person a look at the head.
    const isDirty = !readWell || policy.gentle || (await this.controlFails(readWell));
    this.watch.beginAnew();
    const now = said('sittings.theHeadOfStation', {
      stationId,
      readWell: policy.gentle ? null : (readWell?.cylinder ?? null),
    });
    const what = isDirty
      ? now
      : said('sittings.tracksFailOneAfter', { cylinder: readWell!.cylinder });
    await this.context.commit(async (tx) => {
      await this.note(tx, 'head-dirty', what);
      await this.set(tx, isDirty ? { state: 'dirty', now } : { state: 'reading' });
    });
    return isDirty;
  }

  /** Whether a track that read well fails now. */
  private async controlFails(place: { cylinder: number; head: number }): Promise<boolean> {
    const { revolutions } = this.sitting.policy;
    const pass = this.progress.get(place.cylinder * 2 + place.head)!.tries + 1;
    const control = await this.fetch({ ...place, pass, revolutions, approach: 'plain' });
    const decoded = this.decode(control);
    await this.context.commit((tx) =>
      keepReading(tx, this.sitting, this.medium.marks, { ...place, pass }, control),
    );
    return confirmsDirt({ unsound: unsoundOf(decoded), sectors: decoded.sectors.length });
  }

  private learnLayout(decoded: TrackDecode): void {
    // Before the first tracks were all looked at, how the drive steps is not known.
    if (this.layout || !this.sitting.policy.range) return;
    this.evidence.set(decoded.cylinder * 2 + decoded.head, evidenceOf(decoded));
    const formatted = [...this.evidence.values()].filter(({ found }) => found.length > 0);
    if (formatted.length < TRACKS_TO_KNOW) return;
    const match = bestMatch(matchLayouts(this.layouts, this.drive.form, formatted));
    this.layout = match?.layout ?? null;
    this.stepping = match?.stepping ?? 1;
  }

  protected resting(): Said {
    return said('sittings.pausedTracksAreKept', { progress: this.progress.size });
  }

  protected hasBegun(): boolean {
    return true;
  }

  protected override finish(why: Said): Promise<JobOutcome> {
    return this.finishWith(why, said('sittings.settlingTheFairCopyFrom'), {});
  }

  protected async settle(): Promise<JobOutcome> {
    const { sitting, context, medium, station } = this;
    await sealCapture(context, sitting);
    const watch = watchOfSettling(context, sitting);
    const settled = () => settledCopy(context.db, { sitting, medium, station }, watch);
    await keepSettled(
      context,
      sitting.mediumId,
      async () => (this.progress.size === 0 ? null : settled()),
      (tx, copy) => {
        const layout = copy?.settled?.layout.id ?? null;
        const nothing = (why: Said) => said('sittings.noSectorOfAny', { why });
        return this.end(tx, layout !== null, nothing, { layout: layout ?? sitting.layout });
      },
    );
    return 'done';
  }
}
