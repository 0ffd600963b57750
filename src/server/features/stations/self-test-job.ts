/**
 * Tests a drive with the reference disk in it: a few tracks, once each; what they show is judged by
 * the core.
 */
import { eq } from 'drizzle-orm';
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
import { said } from '@/core/said';

export async function runSelfTest(context: JobContext<'self-test'>): Promise<JobOutcome> {
  const { db, commit, signal, payload } = context;
  const [row] = await db
    .select()
    .from(selfTests)
    .innerJoin(stations, eq(stations.id, selfTests.stationId))
    .innerJoin(media, eq(media.id, selfTests.mediumId))
    .where(eq(selfTests.id, payload.selfTestId));
  if (!row || row.self_tests.state === 'done' || row.self_tests.state === 'failed') return 'done';
  const { self_tests: test, stations: station, media: medium } = row;
  const isOpen = async (tx: Executor) =>
    ['waiting', 'reading', 'held'].includes(
      (
        await tx.select({ state: selfTests.state }).from(selfTests).where(eq(selfTests.id, test.id))
      )[0]!.state,
    );
  const set = (values: Partial<typeof selfTests.$inferInsert>) =>
    commit(async (tx) => {
      // A person may have given it up meanwhile: then it stays so.
      if (!(await isOpen(tx))) return;
      await tx.update(selfTests).set(values).where(eq(selfTests.id, test.id));
      await announce(tx, { kind: 'stations' });
    });
  const bench = new BenchSession(
    station.drive,
    {
      held: (now) => set({ state: 'held', now }).then(() => undefined),
      back: () => set({ state: 'reading' }).then(() => undefined),
      givenUp: async () => !(await isOpen(db)),
    },
    signal,
  );
  const stopped = (): JobOutcome => (signal.aborted ? 'again' : 'done');
  try {
    const drive = await bench.trackDrive();
    const finish = async (result: SelfTest) => {
      await commit(async (tx) => {
        if (!(await isOpen(tx))) return;
        await tx
          .update(selfTests)
          .set({ state: 'done', now: result.findings[0]!, result, endedAt: new Date() })
          .where(eq(selfTests.id, test.id));
        await note(tx, {
          operatorId: test.startedBy,
          kind: 'self-test',
          stationId: station.id,
          mediumId: medium.id,
          what: said('stations.station', {
            id: station.id,
            passed: result.passed,
            findings: result.findings,
          }),
        });
        await announce(tx, { kind: 'stations' });
      });
      return 'done' as const;
    };
    if (drive === null) return stopped();
    if (!drive)
      return await finish({
        tracks: [],
        passed: false,
        findings: [said('stations.theBenchHasNo', { drive: station.drive })],
      });
    if (drive.delivers !== 'flux')
      return await finish({
        tracks: [],
        passed: false,
        findings: [said('stations.thisDriveDeliversSectors')],
      });
    const decoder = new TrackDecoder(drive, 'all');
    const layouts = await allLayouts(db);
    const read = async (
      cylinder: number,
      head: number,
    ): Promise<{ reading: TrackReading; decode: TrackDecode } | null> => {
      if (!(await isOpen(db))) return null;
      await set({
        state: 'reading',
        now: said('stations.readingCylinderHeadOf', { cylinder, head, code: medium.code }),
      });
      const reading = await bench.do((link) =>
        link.readTrack(
          station.drive,
          { cylinder, head, pass: 1, revolutions: TEST_REVOLUTIONS, approach: 'plain' },
          signal,
        ),
      );
      return reading && { reading, decode: decoder.decode([reading], null, { effort: 'plain' }) };
    };
    const first = [];
    for (const cylinder of [0, 2, 4]) {
      const one = await read(cylinder, 0);
      if (!one) return stopped();
      first.push(one.decode);
    }
    const match = bestMatch(matchLayouts(layouts, drive.form, first.map(evidenceOf)));
    if (!match)
      return await finish({
        tracks: [],
        passed: false,
        findings: [said('stations.nothingWasMadeOut', { code: medium.code })],
      });
    const tracks = [];
    for (const { cylinder, head } of testTracks(
      { ...drive, heads: match.layout.heads },
      match.layout.cylinders,
    )) {
      const one = await read(cylinder * match.stepping, head);
      if (!one) return stopped();
      tracks.push(testedTrack(one.reading, one.decode, drive));
    }
    return await finish(judgeDrive(tracks, drive));
  } finally {
    bench.close();
  }
}
