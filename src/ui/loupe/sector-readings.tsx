'use client';
/** The readings of one sector, one above the other: bytes, cells, and what was settled. */
import { isSound } from '@/core/reading/grades';
import type { TrackSector } from '@/core/reading/track-sector';
import { type TrackData } from '../decode/track-data';
import {
  AlignedReadings,
  CELL_BYTES,
  CellLines,
  SHOWN_BYTES,
  SectorBytes,
  type PlacedLook,
} from './aligned-readings';
import { FoundFormat } from '@/core/reading/decode/track-decoder';

export function SectorReadings({
  sector,
  start,
  looks,
  own,
  format,
  apart,
}: {
  sector: TrackSector | null;
  start: number;
  looks: PlacedLook[];
  own: TrackData;
  format: FoundFormat;
  apart: number[];
}) {
  return (
    <div className="min-w-0">
      <h2 className="mb-1">
        The readings, one above the other{' '}
        {sector && (
          <span className="text-[13px] font-normal text-ink-2">
            bytes {start} to {start + SHOWN_BYTES - 1} of sector {sector.r}; differences raised; [
            and ] move
          </span>
        )}
      </h2>
      {sector && (
        <div
          className="max-h-[250px] overflow-auto"
          tabIndex={0}
          role="group"
          aria-label="Readings"
        >
          <AlignedReadings
            looks={looks}
            at={start}
            tickHz={own.drive.tickHz}
            settled={isSound(sector.grade) ? sector.data : null}
          />
        </div>
      )}
      {sector && (
        <h2 className="mb-1 mt-3">
          Cells{' '}
          <span className="text-[13px] font-normal text-ink-2">
            of bytes {start} to {start + CELL_BYTES - 1}; a stroke is a transition
          </span>
        </h2>
      )}
      {sector && (
        <div className="max-h-[110px] overflow-auto" tabIndex={0} role="group" aria-label="Cells">
          <CellLines looks={looks} at={start} encoding={format.encoding} />
        </div>
      )}
      {sector && (
        <h2 className="mb-1 mt-3">
          Sector {sector.r} as {isSound(sector.grade) ? 'settled' : 'one reading has it'}
        </h2>
      )}
      {sector && (
        <SectorBytes sector={sector} key={`${sector.r}/${apart[0]}`} apart={new Set(apart)} />
      )}
    </div>
  );
}
