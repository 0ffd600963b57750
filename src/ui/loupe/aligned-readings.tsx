'use client';
/**
 * The readings of one sector, one above the other, byte under byte; and the whole sector with its
 * checks.
 */
import { GRADE_WORDS } from '@/messages/names';
import { tell } from '@/messages/tell';
import { useEffect, useRef } from 'react';
import type { EncodingId } from '@/core/layout/layout';
import { differingBytes, type LoupeSighting, type LoupeTurn } from '@/core/reading/analysis/loupe';
import type { TrackSector } from '@/core/reading/track-sector';
import { say } from '@/messages';
import { FactList } from '../parts/fact-list';

export const SHOWN_BYTES = 20;
const hex = (value: number, digits = 2) => value.toString(16).toUpperCase().padStart(digits, '0');
const text = (byte: number) => (byte >= 0x20 && byte < 0x7f ? String.fromCharCode(byte) : '·');

/** Cells that a byte of the data takes. */
const CELLS_OF_BYTE: Record<EncodingId, number> = {
  mfm: 16,
  fm: 16,
  'gcr-4to5': 10,
  'gcr-6and2': 8,
};
/** Cells before the first byte: the mark, or the sign that a data block begins. */
const CELLS_BEFORE: Record<EncodingId, number> = {
  mfm: 16,
  fm: 16,
  'gcr-4to5': 10,
  'gcr-6and2': 0,
};
export const CELL_BYTES = 7;

interface CellLinesProps {
  looks: readonly PlacedLook[];
  at: number;
  encoding: EncodingId;
}

/** Cells of the bytes shown first, one line a turn. */
export function CellLines({ looks, at, encoding }: CellLinesProps) {
  const wide = CELLS_OF_BYTE[encoding];
  return (
    <table className="border-collapse text-[13px]" data-testid="cells">
      <tbody>
        {looks
          .filter(({ sighting }) => sighting && sighting.cells.length > 0)
          .map(({ turn: { reading, turn }, sighting }) => (
            <tr key={`${reading}.${turn}`} className="h-[20px]">
              <td className="whitespace-nowrap pr-4 text-ink-2">
                {say.loupe.readingTurn({ reading: reading + 1, turn: turn + 1 })}
              </td>
              <td className="whitespace-pre font-mono text-[11px] tracking-tight">
                {Array.from({ length: CELL_BYTES }, (_, i) => {
                  const start = CELLS_BEFORE[encoding] + (at + i) * wide;
                  return [...sighting!.cells.subarray(start, start + wide)]
                    .map((cell) => (cell ? '|' : '·'))
                    .join('');
                }).join(' ')}
              </td>
            </tr>
          ))}
      </tbody>
    </table>
  );
}

export interface PlacedLook {
  turn: LoupeTurn;
  sighting: LoupeSighting | null;
}

/** What each turn shows of a sector. */
export function looksAt(turns: readonly LoupeTurn[], sector: TrackSector): PlacedLook[] {
  const apart = (a: number, b: number) => Math.min(Math.abs(a - b), 1 - Math.abs(a - b));
  return turns.map((turn) => ({
    turn,
    sighting:
      turn.sightings.find(
        ({ r, size, angle }) =>
          r === sector.r &&
          size === sector.size &&
          (sector.angle === null || apart(angle, sector.angle) < 0.03),
      ) ?? null,
  }));
}

interface AlignedReadingsProps {
  looks: readonly PlacedLook[];
  at: number;
  tickHz: number;
  settled: Uint8Array | null;
}

export function AlignedReadings({ looks, at, tickHz, settled }: AlignedReadingsProps) {
  const apart = new Set(
    differingBytes(looks.flatMap(({ sighting }) => (sighting ? [sighting] : []))),
  );
  const columns = Array.from({ length: SHOWN_BYTES }, (_, i) => at + i);
  return (
    <table className="border-collapse text-[13px]" data-testid="readings">
      <ReadingsHead />
      <tbody>
        {looks.map(({ turn: { reading, turn }, sighting }) => (
          <ReadingRow
            key={`${reading}.${turn}`}
            reading={reading}
            turn={turn}
            sighting={sighting}
            columns={columns}
            settled={settled}
            apart={apart}
            tickHz={tickHz}
          />
        ))}
      </tbody>
    </table>
  );
}

const ROW_PIXELS = 17;

interface ReadingBytesProps {
  sighting: LoupeSighting | null;
  columns: number[];
  settled: Uint8Array | null;
  apart: Set<number>;
}

function ReadingsHead() {
  return (
    <thead className="sr-only">
      <tr>
        <th>{say.loupe.reading}</th>
        <th>{say.loupe.bytes}</th>
        <th>{say.loupe.check}</th>
        <th>{say.loupe.spread}</th>
      </tr>
    </thead>
  );
}

interface ReadingRowProps {
  reading: number;
  turn: number;
  sighting: LoupeSighting | null;
  columns: number[];
  settled: Uint8Array | null;
  apart: Set<number>;
  tickHz: number;
}

function ReadingRow({ reading, turn, sighting, columns, settled, apart, tickHz }: ReadingRowProps) {
  return (
    <tr className="h-[22px]">
      <td className="whitespace-nowrap pr-4 text-ink-2">
        {say.loupe.readingTurn({ reading: reading + 1, turn: turn + 1 })}
      </td>
      <ReadingBytes sighting={sighting} columns={columns} settled={settled} apart={apart} />
      <td className="whitespace-nowrap pl-3">
        {sighting?.data ? (
          sighting.dataOk ? (
            say.loupe.checkRight
          ) : (
            <b>{say.loupe.checkWrong}</b>
          )
        ) : (
          ''
        )}
      </td>
      <td className="whitespace-nowrap pl-4 text-right text-ink-2">
        {sighting ? `±${((sighting.spread / tickHz) * 1e6).toFixed(2)} µs` : ''}
      </td>
    </tr>
  );
}

function ReadingBytes({ sighting, columns, settled, apart }: ReadingBytesProps) {
  return (
    <td className="whitespace-pre font-mono">
      {!sighting?.data ? (
        <span className="text-ink-2">
          {sighting ? say.loupe.idOnlyNoData : say.loupe.notSeenInThis}
        </span>
      ) : (
        columns.map((i) => {
          const byte = sighting.data![i];
          const wrong = settled && settled[i] !== byte;
          return (
            <span
              key={i}
              className={
                apart.has(i)
                  ? `px-[1px] font-[650] ${wrong ? 'bg-oxide-wash underline' : 'bg-sunk'}`
                  : 'px-[1px]'
              }
            >
              {byte === undefined ? '  ' : hex(byte)}{' '}
            </span>
          );
        })
      )}
    </td>
  );
}

interface SectorBytesProps {
  sector: TrackSector;
  apart: ReadonlySet<number>;
}

export function SectorBytes({ sector, apart }: SectorBytesProps) {
  const { data } = sector;
  const box = useRef<HTMLPreElement>(null);
  const first = Math.min(...apart);
  // The first difference in sight, with a row before it.
  useEffect(() => {
    if (box.current && Number.isFinite(first))
      box.current.scrollTop = Math.max(0, (first >> 4) - 1) * ROW_PIXELS;
  }, [first]);
  if (!data) return <p className="text-[13px] text-ink-2">{say.loupe.noReadingHasIts}</p>;
  return (
    <pre
      ref={box}
      className="max-h-[132px] overflow-auto border border-line bg-sheet px-3 py-2 font-mono text-[12px] leading-[17px]"
      data-testid="sector-bytes"
      translate="no"
      tabIndex={0}
      aria-label={say.loupe.bytesOfSector({ r: sector.r })}
    >
      {Array.from({ length: Math.ceil(data.length / 16) }, (_, row) => {
        const bytes = [...data.subarray(row * 16, row * 16 + 16)];
        return <ByteRow key={row} row={row} bytes={bytes} apart={apart} />;
      })}
    </pre>
  );
}

const byteWords = (places: readonly number[]) =>
  places.length === 0
    ? say.loupe.none
    : say.loupe.text({
        places: places.length,
        placesPart: places.length > 0 ? say.loupe.theFirstAt({ place: places[0] }) : '',
      });

function ByteRow({
  row,
  bytes,
  apart,
}: {
  row: number;
  bytes: number[];
  apart: ReadonlySet<number>;
}) {
  return (
    <span className="block">
      <span className="text-ink-2">{hex(row * 16, 4)} </span>
      {bytes.map((byte, i) => (
        <span key={i} className={apart.has(row * 16 + i) ? 'bg-oxide-wash font-[650]' : ''}>
          {hex(byte)}
          {i === 7 ? '  ' : ' '}
        </span>
      ))}
      {'   '.repeat(16 - bytes.length)} {bytes.map(text).join('')}
    </span>
  );
}

/** Why a sector has its grade: the checks, the turns, where they differ. */
export function WhyPanel({ sector, looks }: { sector: TrackSector; looks: readonly PlacedLook[] }) {
  const seen = looks.flatMap(({ sighting }) => (sighting?.data ? [sighting] : []));
  const apart = differingBytes(seen);
  const checks = [...new Set(seen.flatMap(({ check }) => (check === null ? [] : [hex(check, 4)])))];
  const made = [...new Set(seen.flatMap(({ made: own }) => (own === null ? [] : [hex(own, 4)])))];
  const facts: [string, string][] = [
    [
      say.loupe.idAsRecorded,
      [
        say.loupe.cylinder({ c: sector.c }),
        sector.h !== null && say.loupe.head({ h: sector.h }),
        say.loupe.sector({ r: sector.r }),
        sector.n !== null && say.loupe.size({ n: sector.n }),
      ]
        .filter(Boolean)
        .join(', '),
    ],
    [say.loupe.checkAsRead, checks.length > 0 ? checks.slice(0, 4).join(', ') : '–'],
    [say.loupe.checkOfTheBytes, made.length > 0 ? made.slice(0, 4).join(', ') : '–'],
    [
      say.loupe.rightIn,
      say.loupe.ofTurns({ seen: seen.filter(({ dataOk }) => dataOk).length, looks: looks.length }),
    ],
    [say.loupe.bytesThatDiffer, byteWords(apart)],
    [
      say.loupe.cellsAgainstTheCode,
      String(Math.max(0, ...seen.map(({ violations }) => violations))),
    ],
  ];
  return (
    <section aria-label={say.loupe.why}>
      <h2 className="mb-1">{say.loupe.why2({ grade: GRADE_WORDS[sector.grade] })}</h2>
      <FactList facts={facts} />
      <p className="mt-1 text-[13px] text-ink-2 first-letter:uppercase">{tell(sector.why)}.</p>
    </section>
  );
}
