/**
 * A drive's self-test with a reference disk: a few tracks from the outermost to the innermost,
 * each read once, say
 * whether the drive turns at its speed, keeps it, and reads with both heads what is known to be
 * there.
 */
import type { TrackReading } from '@/core/flux/reading';
import { isSound } from '../grades';
import { timingOfTurn } from '../decode/timing';
import type { TrackDecode } from '../decode/track-decoder';
import { said, type Said } from '@/core/said';

interface TestedDrive {
  tickHz: number;
  rpm: number;
  cylinders: number;
  heads: number;
}

export interface TestedTrack {
  cylinder: number;
  head: number;
  sectors: number;
  sound: number;
  /** Turns a minute; 0 where the reading has fewer than two index pulses. */
  rpm: number;
  /** Root mean square of the transitions' distance from their raster, in cells. */
  spread: number;
}

export interface SelfTest {
  tracks: TestedTrack[];
  passed: boolean;
  /** What is wrong and what to check, a sentence each; where it passed, one that says so. */
  findings: Said[];
}

/** Turns of each track that the test takes. */
export const TEST_REVOLUTIONS = 3;
/** A drive may turn this much off its speed; beyond it what it writes is not read elsewhere. */
const MAX_SPEED_ERROR = 0.015;
/** Spread in cells above which cells begin to be taken for their neighbours. */
const MAX_SPREAD = 0.17;

/** Outermost, a third, two thirds and innermost of the cylinders that the reference disk has. */
export function testTracks(
  { heads }: TestedDrive,
  cylinders: number,
): { cylinder: number; head: number }[] {
  const places = [
    ...new Set([
      0,
      Math.round((cylinders - 1) / 3),
      Math.round((2 * (cylinders - 1)) / 3),
      cylinders - 1,
    ]),
  ];
  return places.flatMap((cylinder) =>
    Array.from({ length: heads }, (_, head) => ({ cylinder, head })),
  );
}

export function testedTrack(
  reading: TrackReading,
  decode: TrackDecode,
  { tickHz }: TestedDrive,
): TestedTrack {
  const { index } = reading;
  const turn = index.length > 1 ? (index[index.length - 1]! - index[0]!) / (index.length - 1) : 0;
  const [timing] =
    turn > 0 && decode.cellTicks > 0
      ? timingOfTurn(reading, tickHz, decode.cellTicks, index[0]!, turn, 1)
      : [];
  return {
    cylinder: decode.cylinder,
    head: decode.head,
    sectors: decode.sectors.length,
    sound: decode.sectors.filter(({ grade }) => isSound(grade)).length,
    rpm: turn > 0 ? (60 * tickHz) / turn : 0,
    spread: timing?.spread ?? 0,
  };
}

export function judgeDrive(tracks: readonly TestedTrack[], drive: TestedDrive): SelfTest {
  const findings: Said[] = [];
  const turning = tracks.filter(({ rpm }) => rpm > 0);
  const mean = turning.reduce((sum, { rpm }) => sum + rpm, 0) / Math.max(1, turning.length);
  if (turning.length < tracks.length)
    findings.push(
      said('analysis.noIndexPulseOn', {
        tracks: tracks.length - turning.length,
        tracks2: tracks.length,
      }),
    );
  if (turning.length > 0 && Math.abs(mean / drive.rpm - 1) > MAX_SPEED_ERROR)
    findings.push(said('analysis.itTurnsTimesA', { mean: mean.toFixed(1), rpm: drive.rpm }));
  for (const head of new Set(tracks.map((track) => track.head))) {
    const own = tracks.filter((track) => track.head === head);
    const failed = own.filter(({ sectors, sound }) => sectors === 0 || sound < sectors);
    if (failed.length === own.length) findings.push(said('analysis.headReadsNoTrack', { head }));
    else if (failed.length > 0)
      findings.push(
        said('analysis.headFailsOnCylinder', {
          head,
          failed: failed.map(({ cylinder }) => cylinder).join(' and '),
        }),
      );
    const spread = Math.max(...own.map((track) => track.spread));
    if (failed.length === 0 && spread > MAX_SPREAD)
      findings.push(
        said('analysis.headReadsEveryTrack', { head, spread: (100 * spread).toFixed(0) }),
      );
  }
  const passed = findings.length === 0;
  if (passed)
    findings.push(
      said('analysis.bothSpeedAndHeads', { mean: mean.toFixed(1), tracks: tracks.length }),
    );
  return { tracks: [...tracks], passed, findings };
}
