/**
 * Tests a drive with the reference disk in it: a few tracks, once each; what they show is judged by
 * the core.
 */
import { and, eq, isNull } from 'drizzle-orm';
import { bestMatch, matchLayouts } from '@/core/layout/match';
import { evidenceOf } from '@/core/reading/decode/decode-capture';
import {
  TEST_REVOLUTIONS,
  judgeDrive,
  testTracks,
  testedTrack,
  type SelfTest,
} from '@/core/reading/analysis/self-test';
import { TrackDecoder, type TrackDecode } from '@/core/reading/decode/track-decoder';
import type { TrackReading } from '@/core/flux/reading';
import { media } from '../media/tables';
import { selfTests, stations } from './tables';
import { announce } from '@/server/platform/events';
import type { Executor } from '@/server/platform/db/database';
import type { JobContext, JobOutcome } from '@/server/platform/jobs/engine';
import { allLayouts } from '../layouts/layouts';
import { note } from '../ledger/ledger';
import { BenchSession } from '@/server/platform/devices/bench-session';
import { said, type Said } from '@/core/said';

type Row = {
  test: typeof selfTests.$inferSelect;
  station: typeof stations.$inferSelect;
  medium: typeof media.$inferSelect;
};

/** Cylinders whose tracks tell the layout of the reference disk. */
const FIRST_CYLINDERS = [0, 2, 4];

const failedFor = (finding: Said): SelfTest => ({ tracks: [], passed: false, findings: [finding] });

/** A person gave it up, or the worker stops. */
class Stopped extends Error {}

class SelfTestRun {
  private readonly bench: BenchSession;
  private decoder!: TrackDecoder;

  constructor(
    private readonly context: JobContext<'self-test'>,
    private readonly row: Row,
  ) {
    this.bench = new BenchSession(
      row.station.drive,
      {
        held: (now) => this.set({ state: 'held', now }),
        back: () => this.set({ state: 'reading' }),
        givenUp: async () => !(await this.isOpen(context.db)),
      },
      context.signal,
    );
  }

  async run(): Promise<JobOutcome> {
    try {
      await this.finish(await this.test());
      return 'done';
    } catch (error) {
      if (!(error instanceof Stopped)) throw error;
      return this.context.signal.aborted ? 'again' : 'done';
    } finally {
      this.bench.close();
    }
  }

  private async test(): Promise<SelfTest> {
    const { station, medium } = this.row;
    const drive = await this.bench.trackDrive();
    if (drive === null) throw new Stopped();
    if (!drive) return failedFor(said('stations.theBenchHasNo', { drive: station.drive }));
    if (drive.delivers !== 'flux') return failedFor(said('stations.thisDriveDeliversSectors'));
    this.decoder = new TrackDecoder(drive, 'all');
    const layouts = await allLayouts(this.context.db);
    const first = [];
    for (const cylinder of FIRST_CYLINDERS) first.push((await this.read(cylinder, 0)).decode);
    const match = bestMatch(matchLayouts(layouts, drive.form, first.map(evidenceOf)));
    if (!match) return failedFor(said('stations.nothingWasMadeOut', { code: medium.code }));
    const { heads, cylinders } = match.layout;
    const tracks = [];
    for (const { cylinder, head } of testTracks({ ...drive, heads }, cylinders)) {
      const { reading, decode } = await this.read(cylinder * match.stepping, head);
      tracks.push(testedTrack(reading, decode, drive));
    }
    return judgeDrive(tracks, drive);
  }

  private async read(
    cylinder: number,
    head: number,
  ): Promise<{ reading: TrackReading; decode: TrackDecode }> {
    const { station, medium } = this.row;
    if (!(await this.isOpen(this.context.db))) throw new Stopped();
    const now = said('stations.readingCylinderHeadOf', { cylinder, head, code: medium.code });
    await this.set({ state: 'reading', now });
    const reading = await this.bench.do((link) =>
      link.readTrack(
        station.drive,
        { cylinder, head, pass: 1, revolutions: TEST_REVOLUTIONS, approach: 'plain' },
        this.context.signal,
      ),
    );
    if (!reading) throw new Stopped();
    return { reading, decode: this.decoder.decode([reading], null, { effort: 'plain' }) };
  }

  private async isOpen(tx: Executor): Promise<boolean> {
    const [row] = await tx
      .select({ state: selfTests.state })
      .from(selfTests)
      .where(eq(selfTests.id, this.row.test.id));
    return ['waiting', 'reading', 'held'].includes(row!.state);
  }

  private set(values: Partial<typeof selfTests.$inferInsert>): Promise<void> {
    return this.context.commit(async (tx) => {
      // A person may have given it up meanwhile: then it stays so.
      if (!(await this.isOpen(tx))) return;
      await tx.update(selfTests).set(values).where(eq(selfTests.id, this.row.test.id));
      await announce(tx, { kind: 'stations' });
    });
  }

  private async finish(result: SelfTest): Promise<void> {
    const { test, station, medium } = this.row;
    const { passed, findings } = result;
    await this.context.commit(async (tx) => {
      if (!(await this.isOpen(tx))) return;
      await tx
        .update(selfTests)
        .set({ state: 'done', now: findings[0]!, result, endedAt: new Date() })
        .where(eq(selfTests.id, test.id));
      await note(tx, {
        operatorId: test.startedBy,
        kind: 'self-test',
        stationId: station.id,
        mediumId: medium.id,
        what: said('stations.station', { id: station.id, passed, findings }),
      });
      await announce(tx, { kind: 'stations' });
    });
  }
}

export async function giveUpSelfTest(
  { commit, payload }: JobContext<'self-test'>,
  why: Said,
): Promise<void> {
  await commit(async (tx) => {
    await tx
      .update(selfTests)
      .set({ state: 'failed', now: why, endedAt: new Date() })
      .where(and(eq(selfTests.id, payload.selfTestId), isNull(selfTests.endedAt)));
    await announce(tx, { kind: 'stations' });
  });
}

export async function runSelfTest(context: JobContext<'self-test'>): Promise<JobOutcome> {
  const [row] = await context.db
    .select()
    .from(selfTests)
    .innerJoin(stations, eq(stations.id, selfTests.stationId))
    .innerJoin(media, eq(media.id, selfTests.mediumId))
    .where(eq(selfTests.id, context.payload.selfTestId));
  if (!row || row.self_tests.state === 'done' || row.self_tests.state === 'failed') return 'done';
  const { self_tests: test, stations: station, media: medium } = row;
  return new SelfTestRun(context, { test, station, medium }).run();
}
