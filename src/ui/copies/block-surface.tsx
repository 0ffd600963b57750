'use client';
/**
 * The surface of a device that was read block by block: its surface, what lost blocks cost, its
 * tracks, its health, and what an empty-looking one is.
 */
import { GRADE_WORDS } from '@/messages/names';
import { tell } from '@/messages/tell';
import type { Grade } from '@/core/reading/grades';
import { useMemo } from 'react';
import { describeMedium } from '@/core/block/device';
import { filesOn } from '@/core/block/files-on-blocks';
import { hasPreEmphasis } from '@/core/optical/disc-tracks';
import { USER_SECTOR_BYTES } from '@/core/optical/raw-sector';
import { BlockSurfaceChart } from '../charts/blocks/block-surface-chart';
import { amount } from '@/core/text/amount';
import type { DocketData } from '../data/queries';
import { grouped } from '@/core/text/grouped';
import { TallyRow } from '../parts/grade';
import { say } from '@/messages';

type Copy = NonNullable<DocketData['copy']>;
type Kept = NonNullable<Copy['blocks']>;

const VERDICTS = {
  'never-written': say.copies.neverWritten,
  wiped: say.copies.wiped,
  'written-over': say.copies.formattedOverSomething,
  'in-use': say.copies.inUse,
  unreadable: say.copies.notEnoughWasRead,
} as const;

export function BlockSurface({ data, kept }: { data: DocketData; kept: Kept }) {
  const copy = data.copy!;
  const { placed = null, hurt = [] } = data.onDevice ?? {};
  const on = useMemo(
    () => (placed ? (from: number, to: number) => filesOn(placed, from, to) : undefined),
    [placed],
  );
  const hurtFiles = new Map(hurt.map(({ from, files }) => [from, files]));
  const unsound = kept.extents.filter(([, , grade]) => grade === 'doubtful' || grade === 'lost');
  return (
    <>
      {copy.tally && <TallyRow tally={copy.tally} className="mb-3" />}
      <BlockSurfaceChart
        extents={kept.extents}
        blocks={kept.blocks}
        blockBytes={kept.blockBytes}
        height={330}
        filesOn={on}
      />
      <DeviceSaid kept={kept} />
      {unsound.length > 0 && <LostRanges unsound={unsound} hurtFiles={hurtFiles} />}
      {kept.tracks.length > 0 && (
        <Tracks copyId={copy.id} tracks={kept.tracks} hasSheet={copy.captureBlob !== null} />
      )}
      <Health data={data} />
      {copy.finding && <Finding finding={copy.finding} />}
    </>
  );
}

function DeviceSaid({ kept }: { kept: Kept }) {
  return (
    <p className="mt-3 text-[13px] text-ink-2">
      {kept.medium ? (
        <>
          {say.copies.theDeviceSaidOf}{' '}
          <b className="text-ink">{tell(describeMedium(kept.medium))}</b>
          {kept.medium.model && `, ${kept.medium.model}`}
          {kept.medium.serial && `, ${kept.medium.serial}`};{' '}
        </>
      ) : (
        say.copies.takenInAsA
      )}

      {say.copies.blocksOfBytes({
        blocks: grouped(kept.blocks),
        blockBytes: grouped(kept.blockBytes),
        blocks2: amount(kept.blocks * kept.blockBytes),
      })}
      {kept.readings > 1 &&
        say.copies.putTogetherFromReadings({
          readings: kept.readings,
          differing: kept.differing.length,
        })}
    </p>
  );
}

interface LostRangesProps {
  unsound: [
    from: number,
    to: number,
    grade: 'firm' | 'mended' | 'doubtful' | 'lost' | 'unread',
    tries: number,
    pace: 0 | 2 | 1,
  ][];
  hurtFiles: Map<number, string[]>;
}

function LostRanges({ unsound, hurtFiles }: LostRangesProps) {
  return (
    <table className="mt-3 border-collapse text-[13px]" data-testid="lost-ranges">
      <caption className="pb-1 text-left font-[650]">{say.copies.whatTheBlocksWithout}</caption>
      <LostHead />
      <tbody>
        {unsound.slice(0, 40).map(([from, to, grade, tries]) => (
          <LostRange
            key={from}
            from={from}
            to={to}
            grade={grade}
            tries={tries}
            hurtFiles={hurtFiles}
          />
        ))}
      </tbody>
    </table>
  );
}

interface TracksProps {
  copyId: number;
  tracks: Kept['tracks'];
  hasSheet: boolean;
}

function LostHead() {
  return (
    <thead>
      <tr className="border-b border-line">
        <th className="pr-6 text-right">{say.copies.fromBlock}</th>
        <th className="pr-6 text-right">{say.copies.blocks}</th>
        <th className="pr-6">{say.copies.grade}</th>
        <th className="pr-6 text-right">{say.copies.asked}</th>
        <th>{say.copies.filesOnIt}</th>
      </tr>
    </thead>
  );
}

interface LostRangeProps {
  from: number;
  to: number;
  grade: Grade;
  tries: number;
  hurtFiles: Map<number, string[]>;
}

function LostRange({ from, to, grade, tries, hurtFiles }: LostRangeProps) {
  return (
    <tr className="border-b border-line align-top">
      <td className="pr-6 text-right">{grouped(from)}</td>
      <td className="pr-6 text-right">{grouped(to - from)}</td>
      <td className="pr-6">{GRADE_WORDS[grade]}</td>
      <td className="pr-6 text-right">{tries}</td>
      <td className="font-mono">
        {hurtFiles.get(from)?.join(', ') || (
          <span className="font-sans text-ink-2">{say.copies.none}</span>
        )}
      </td>
    </tr>
  );
}

function Tracks({ copyId, tracks, hasSheet }: TracksProps) {
  return (
    <table className="mt-3 border-collapse text-[13px]" data-testid="disc-tracks">
      <caption className="pb-1 text-left font-[650]">{say.copies.tracksOfTheDisc}</caption>
      <TracksHead />
      <tbody>
        {tracks.map((track) => (
          <DiscTrack key={track.number} track={track} hasSheet={hasSheet} copyId={copyId} />
        ))}
      </tbody>
    </table>
  );
}

function TracksHead() {
  return (
    <thead>
      <tr className="border-b border-line">
        <th className="pr-6 text-right">{say.copies.track}</th>
        <th className="pr-6">{say.copies.holds}</th>
        <th className="pr-6 text-right">{say.copies.fromSector}</th>
        <th className="pr-6 text-right">{say.copies.sectors}</th>
        <th className="pr-6 text-right">{say.copies.length}</th>
        <th>{say.copies.out}</th>
      </tr>
    </thead>
  );
}

interface DiscTrackProps {
  track: Kept['tracks'][number];
  hasSheet: boolean;
  copyId: number;
}

function DiscTrack({ track, hasSheet, copyId }: DiscTrackProps) {
  const { number, type, startLba, sectors } = track;
  const sound = hasPreEmphasis(track) ? say.copies.soundWithPreEmphasis : say.copies.sound;
  return (
    <tr className="border-b border-line">
      <td className="pr-6 text-right">{number}</td>
      <td className="pr-6">
        {type === 'AUDIO'
          ? sound
          : say.copies.data({
              startsWithPart: type.startsWith('MODE2') ? say.copies.mode2 : say.copies.mode1,
            })}
      </td>
      <td className="pr-6 text-right">{grouped(startLba)}</td>
      <td className="pr-6 text-right">{grouped(sectors)}</td>
      <td className="pr-6 text-right">
        {type === 'AUDIO'
          ? `${Math.floor(sectors / 75 / 60)}:${String(Math.floor(sectors / 75) % 60).padStart(2, '0')}`
          : amount(sectors * USER_SECTOR_BYTES)}
      </td>
      <td>
        {type === 'AUDIO' && hasSheet && (
          <a
            href={`/api/copies/${copyId}/sound?track=${number}`}
            className="font-[650] text-oxide hover:underline"
          >
            {say.copies.wav}
          </a>
        )}
      </td>
    </tr>
  );
}

/** What the drive counted of itself before the newest sitting and after it. */
function Health({ data: { sittings } }: { data: DocketData }) {
  const sitting = sittings.find(({ device }) => device?.health);
  const before = sitting?.device?.health;
  if (!before) return null;
  return (
    <table className="mt-3 border-collapse text-[13px]" data-testid="health">
      <caption className="pb-1 text-left font-[650]">{say.copies.whatTheDriveCounts}</caption>
      <HealthHead />
      <tbody>
        {before.map(({ name, value, unit }) => {
          const after = sitting.healthAfter?.find((each) => each.name === name)?.value;
          return (
            <tr key={name} className="border-b border-line">
              <td className="pr-6">{name}</td>
              <td className="pr-6 text-right">
                {grouped(value)} {unit}
              </td>
              <td
                className={`text-right ${after !== undefined && after !== value ? 'font-[650]' : ''}`}
              >
                {after === undefined ? say.copies.notTold : `${grouped(after)} ${unit}`}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function HealthHead() {
  return (
    <thead>
      <tr className="border-b border-line">
        <th className="pr-6">{say.copies.count}</th>
        <th className="pr-6 text-right">{say.copies.before}</th>
        <th className="text-right">{say.copies.after}</th>
      </tr>
    </thead>
  );
}

function Finding({ finding }: { finding: NonNullable<Copy['finding']> }) {
  const { verdict, why, traces, more } = finding;
  const rest = Object.entries(more).filter(([, count]) => count > 0);
  return (
    <section
      className="mt-4 border-l-4 border-ochre bg-ochre-wash px-3 py-2 text-[13px]"
      data-testid="finding"
      data-verdict={verdict}
    >
      <h3 className="text-[15px] font-[650]">{VERDICTS[verdict]}</h3>
      <p>{tell(why)}</p>
      {traces.length > 0 && <Traces traces={traces} />}
      {rest.length > 0 && (
        <p className="mt-1 text-ink-2">
          {say.copies.further({
            rest: rest.map(([kind, count]) => `${grouped(count)} of kind ${kind}`).join(', '),
          })}
        </p>
      )}
    </section>
  );
}

function Traces({
  traces,
}: {
  traces: NonNullable<Copy['finding']>['traces'];
}): import('react').ReactNode {
  return (
    <ul className="mt-1 max-h-[220px] overflow-auto">
      {traces.map(({ offset, what }) => (
        <li key={offset}>
          <span className="font-mono">
            {say.copies.h({ offset: offset.toString(16).toUpperCase() })}
          </span>{' '}
          {tell(what)}
        </li>
      ))}
    </ul>
  );
}
