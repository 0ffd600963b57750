/**
 * Tracks of drives that deliver no flux: sectors with the drive's own status. Nothing here was
 * checked by us, and every
 * reason says so: the grades rest on what the drive says of the checks that it made.
 */
import { said, type Said } from '@/core/said';
import { turnCells, type EncodingId } from '@/core/layout/layout';
import { missingOf, type Expectation } from '../decode/expectation';
import type { TrackSector } from '../track-sector';
import type { TrackDecode } from '../decode/track-decoder';

/**
 * What a drive says of a sector: read with a right check, the same with a deleted-data mark, a
 * wrong check, no data field.
 */
export const TOLD_STATUSES = Object.freeze([
  'right',
  'right-deleted',
  'wrong-check',
  'no-data',
] as const);
export type ToldStatus = (typeof TOLD_STATUSES)[number];

export interface ToldSector {
  c: number;
  h: number | null;
  r: number;
  n: number | null;
  size: number;
  status: ToldStatus;
}

/**
 * One reading of one track by such a drive. `data` holds `size` bytes for each sector in order,
 * whatever its status.
 */
export interface ControllerTrack {
  cylinder: number;
  head: number;
  pass: number;
  encoding: EncodingId;
  rateKbps: number;
  sectors: readonly ToldSector[];
  data: Uint8Array;
}

const WHY: Record<ToldStatus, Said> = {
  right: said('controller.checkIsRight'),
  'right-deleted': said('controller.checkIsRightDeleted'),
  'wrong-check': said('controller.checkIsWrong'),
  'no-data': said('controller.noData'),
};

interface Appearance {
  sector: ToldSector;
  data: Uint8Array;
  reading: number;
  pass: number;
}

/** Settles one track from all its readings; `rpm` is the drive's. */
export function settleTold(
  readings: readonly ControllerTrack[],
  expected: Expectation | null,
  rpm: number,
): TrackDecode {
  const { cylinder, head, encoding, rateKbps } = readings[0]!;
  const firstPass = Math.min(...readings.map(({ pass }) => pass));
  const byId = new Map<string, Appearance[]>();
  for (const [reading, { sectors, data, pass }] of readings.entries()) {
    let at = 0;
    for (const sector of sectors) {
      const key = `${sector.c}/${sector.h}/${sector.r}/${sector.n}`;
      const seen = byId.get(key) ?? [];
      seen.push({ sector, data: data.subarray(at, at + sector.size), reading, pass });
      byId.set(key, seen);
      at += sector.size;
    }
  }
  const groups = [...byId.values()];
  const sectors = groups.map((seen, place): TrackSector => {
    const right = seen.filter(
      ({ sector }) => sector.status === 'right' || sector.status === 'right-deleted',
    );
    const plain = right.find(({ pass }) => pass === firstPass);
    const from = plain ?? right[0] ?? seen[0]!;
    const { c, h, r, n, size, status } = from.sector;
    return {
      cylinder,
      head,
      encoding,
      c,
      h,
      r,
      n,
      idExtra: null,
      size,
      deleted: status === 'right-deleted',
      mark: null,
      grade: plain ? 'firm' : right.length > 0 ? 'mended' : 'doubtful',
      mending: !plain && right.length > 0 ? 'another-pass' : null,
      remarks: [],
      data: status === 'no-data' ? null : from.data,
      // Such a drive does not say where on the turn a sector lies: they stand in the order in which
      // it met them.
      angle: place / groups.length,
      span: 0.9 / groups.length,
      seen: seen.length,
      seenSound: right.length,
      source: { reading: from.reading, pass: from.pass, turn: 0, recovery: 'told' },
      why: WHY[status],
    };
  });
  const format = {
    encoding,
    cellTicks: 0,
    turnCells: turnCells({ encoding, rateKbps }, rpm),
    sectors: sectors.map(({ r, size }) => ({ r, size })),
  };
  return {
    cylinder,
    head,
    formats: sectors.length > 0 ? [format] : [],
    cellTicks: 0,
    openArc: 0,
    readings: readings.length,
    sectors: expected
      ? [...sectors, ...missingOf(expected, cylinder, head, sectors, 'lost')]
      : sectors,
  };
}
