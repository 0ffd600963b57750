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
import type { FoundFormat } from '@/core/reading/decode/track-work';
import { say } from '@/messages';

interface SectorReadingsProps {
  sector: TrackSector | null;
  start: number;
  looks: PlacedLook[];
  own: TrackData;
  format: FoundFormat;
  apart: number[];
}

function ReadingsHead({ sector, start }: Pick<SectorReadingsProps, 'sector' | 'start'>) {
  return (
    <h2 className="mb-1">
      {say.loupe.theReadingsOneAbove}{' '}
      {sector && (
        <span className="text-[13px] font-normal text-ink-2">
          {say.loupe.bytesToOfSector({ start, start2: start + SHOWN_BYTES - 1, r: sector.r })}
        </span>
      )}
    </h2>
  );
}

export function SectorReadings({ sector, start, looks, own, format, apart }: SectorReadingsProps) {
  return (
    <div className="min-w-0">
      <ReadingsHead sector={sector} start={start} />
      {sector && <Readings looks={looks} start={start} own={own} sector={sector} />}
      {sector && (
        <h2 className="mb-1 mt-3">
          {say.loupe.cells}{' '}
          <span className="text-[13px] font-normal text-ink-2">
            {say.loupe.ofBytesToA({ start, start2: start + CELL_BYTES - 1 })}
          </span>
        </h2>
      )}
      {sector && <Cells looks={looks} start={start} format={format} />}
      {sector && (
        <h2 className="mb-1 mt-3">
          {say.loupe.sectorAs({ r: sector.r })}{' '}
          {isSound(sector.grade) ? say.loupe.settled : say.loupe.oneReadingHasIt}
        </h2>
      )}
      {sector && (
        <SectorBytes sector={sector} key={`${sector.r}/${apart[0]}`} apart={new Set(apart)} />
      )}
    </div>
  );
}

interface ReadingsProps {
  looks: PlacedLook[];
  start: number;
  own: TrackData;
  sector: TrackSector;
}

function Readings({ looks, start, own, sector }: ReadingsProps): import('react').ReactNode {
  return (
    <div
      className="max-h-[250px] overflow-auto"
      tabIndex={0}
      role="group"
      aria-label={say.loupe.readings2}
    >
      <AlignedReadings
        looks={looks}
        at={start}
        tickHz={own.drive.tickHz}
        settled={isSound(sector.grade) ? sector.data : null}
      />
    </div>
  );
}

function Cells({
  looks,
  start,
  format,
}: {
  looks: PlacedLook[];
  start: number;
  format: FoundFormat;
}) {
  return (
    <div
      className="max-h-[110px] overflow-auto"
      tabIndex={0}
      role="group"
      aria-label={say.loupe.cells}
    >
      <CellLines looks={looks} at={start} encoding={format.encoding} />
    </div>
  );
}
