/** A whole capture, from readings to graded sectors: decoded plainly, matched with a layout, looked at again where it fails. */
import { createMfm } from '../encoding';
import type { ContainerHeader } from '../flux/container';
import type { TrackReading } from '../flux/reading';
import { bytesOfSizeCode, type Layout } from '../layout/layout';
import { bestLayout, matchLayouts, type LayoutMatch, type TrackEvidence } from '../layout/match';
import { isSound } from './grades';
import { missingSector, type TrackSector } from './merge';
import { TrackDecoder, type DriveFacts, type TrackDecode } from './track-decoder';

export interface CaptureDecode {
  layout: Layout | null;
  matches: LayoutMatch[];
  /** In order of cylinder and head; only tracks that were read. */
  tracks: TrackDecode[];
  drive: DriveFacts;
  /** Ticks a second had to be worked out from the index pulses. */
  driveAssumed: boolean;
}

const DEFAULT_RPM = 300;
const DEFAULT_TICK_HZ = 24_000_000;

/** Drive facts from the header, or where it is hurt from the readings' own index pulses. */
export function driveFacts(header: Partial<ContainerHeader> | null, readings: readonly TrackReading[]): { drive: DriveFacts; assumed: boolean } {
  const rpm = header?.rpm ?? DEFAULT_RPM;
  if (header?.tickHz) return { drive: { tickHz: header.tickHz, rpm }, assumed: header.rpm === undefined };
  const turns = readings.flatMap(({ index }) => index.slice(1).map((pulse, i) => pulse - index[i]!)).sort((a, b) => a - b);
  const turn = turns[turns.length >> 1];
  return { drive: { tickHz: turn ? Math.round((turn * rpm) / 60) : DEFAULT_TICK_HZ, rpm }, assumed: true };
}

/** Readings by track, tracks in order of cylinder and head. */
export function groupByTrack(readings: readonly TrackReading[]): TrackReading[][] {
  const groups = new Map<number, TrackReading[]>();
  for (const reading of readings) {
    const key = reading.cylinder * 2 + reading.head;
    const group = groups.get(key);
    if (group) group.push(reading);
    else groups.set(key, [reading]);
  }
  return [...groups].sort(([a], [b]) => a - b).map(([, group]) => group);
}

/** What a decoded track says about the layout. */
export function evidenceOf(track: TrackDecode, tickHz: number): TrackEvidence {
  const rateKbps = track.cellTicks > 0 ? tickHz / (2 * track.cellTicks) / 1000 : 0;
  const found = track.sectors.filter(({ grade }) => grade !== 'lost').map(({ r, n }) => ({ r, n }));
  return { cylinder: track.cylinder, head: track.head, found, rateKbps };
}

/**
 * Decodes all readings. `layout` forces one; else the best of `layouts` that fits is taken, and where none does, what
 * is there is given without one.
 */
export function decodeCapture(
  header: Partial<ContainerHeader> | null, readings: readonly TrackReading[], layouts: readonly Layout[], layout: Layout | null = null,
): CaptureDecode {
  const { drive, assumed } = driveFacts(header, readings);
  const decoder = new TrackDecoder(createMfm(), drive, 'as-needed');
  const groups = groupByTrack(readings);
  const tracks = groups.map((group) => decoder.decode(group, layout));
  const matches = matchLayouts(layouts, header?.form ?? null, tracks.map((track) => evidenceOf(track, drive.tickHz)));
  const chosen = layout ?? bestLayout(matches);
  if (chosen && !layout) {
    for (const [i, group] of groups.entries()) if (!isComplete(tracks[i]!, chosen)) tracks[i] = decoder.decode(group, chosen);
  }
  return { layout: chosen, matches, tracks, drive, driveAssumed: assumed };
}

function isComplete(track: TrackDecode, layout: Layout): boolean {
  if (track.cylinder >= layout.cylinders || track.head >= layout.heads) return true;
  const sound = new Set(track.sectors.filter(({ grade }) => isSound(grade)).map(({ r, n }) => r * 256 + n));
  return layout.track.sectors.every(({ r, n }) => sound.has(r * 256 + n));
}

/** Every sector: those found, those lost, and with a layout those on tracks that were not read. */
export function allSectors(decode: Pick<CaptureDecode, 'layout' | 'tracks'>): TrackSector[] {
  const { layout, tracks } = decode;
  if (!layout) return tracks.flatMap(({ sectors }) => sectors);
  const byTrack = new Map(tracks.map((track) => [track.cylinder * 2 + track.head, track]));
  const all: TrackSector[] = [];
  for (let cylinder = 0; cylinder < layout.cylinders; cylinder++) {
    for (let head = 0; head < layout.heads; head++) {
      const track = byTrack.get(cylinder * 2 + head);
      byTrack.delete(cylinder * 2 + head);
      if (track) all.push(...track.sectors);
      else for (const { r, n } of layout.track.sectors) all.push(missingSector(cylinder, head, r, n, bytesOfSizeCode(n), 'unread'));
    }
  }
  for (const track of byTrack.values()) all.push(...track.sectors);
  return all;
}
