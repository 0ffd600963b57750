'use client';
/** The sounds of a medium: gone through by keys and heard at once, seen over time, taken out. */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useSearchParams } from 'next/navigation';
import { useCallback, useEffect, useMemo, useState, type ReactNode } from 'react';
import { say } from '@/messages';
import { docketQuery, soundsQuery, type Sounds } from '../data/queries';
import { ExtractRows } from '../holdings/extracts';
import { useKey } from '../parts/keys';
import { EmptyState, ErrorAlert, PageHead } from '../parts/page';
import type { Player } from './player';
import { ProgramKeys } from './program-keys';
import { SoundList, groupsOf, type Item } from './sound-list';
import { Problems } from './problems';
import { atRate, useRate, type Rate } from './rate-choice';
import { SoundPanel, type Single } from './sound-panel';
import { ToneChart } from './tone-chart';
import { usePlayer } from './use-player';
import { ZoneTable } from './zone-table';
import { DiscTracks } from './disc/disc-tracks';
import {
  SheetLinks,
  TakeProgramOut,
  TakeSoundsOut,
  TakeVolumeOut,
  useSoundsOut,
  type SoundsOut,
} from './take-sounds-out';
import { docketPage } from '../data/addresses';

export function SoundsView({ code }: { code: string }) {
  const { data: docket } = useQuery(docketQuery(code));
  const copy = docket?.copy;
  const { data: sounds, error } = useQuery({ ...soundsQuery(copy?.id ?? 0), enabled: !!copy });
  const over = (
    <Link href={docketPage(code)} className="underline">
      {code}
      {docket ? `, ${docket.medium.title}` : ''}
    </Link>
  );
  if (copy && sounds)
    return <Listening key={copy.id} copyId={copy.id} code={code} sounds={sounds} over={over} />;
  return (
    <>
      <PageHead over={over} title={titleWithout(docket !== undefined, !!copy)} />
      {docket && !copy && <EmptyState>{say.sounds.aSittingMakesThe}</EmptyState>}
      <ErrorAlert>{error?.message}</ErrorAlert>
    </>
  );
}

function titleWithout(isKnown: boolean, hasCopy: boolean): string {
  if (isKnown && !hasCopy) return say.sounds.thereIsNoImage;
  return say.sounds.lookingForSounds;
}

interface ListeningProps {
  copyId: number;
  code: string;
  sounds: Sounds;
  over: ReactNode;
}

function titleOf(items: readonly Item[], { tracks }: Sounds): string {
  const programs = items.filter(({ kind }) => kind === 'program').length;
  return say.sounds.title({ sounds: items.length - programs + tracks.length, programs });
}

const isHeld = ({ volumes, tracks }: Sounds): boolean =>
  tracks.length > 0 ||
  volumes.some(({ folders }) => folders.some(({ samples }) => samples.length > 0));

const heardAt = (item: Single, rate: Rate): Single =>
  item.kind === 'sample' ? { ...item, sample: atRate(item.sample, rate) } : item;

/** That of the file in the address; else the first that sounds by itself. */
function firstOf(items: readonly Item[], file: string | null): Item | null {
  const named = items.find((item) => fileOf(item) === Number(file));
  return named ?? items.find(({ kind }) => kind !== 'program') ?? items[0] ?? null;
}

function fileOf(item: Item): number | null {
  if (item.kind === 'program') return null;
  return item.kind === 'sample' ? item.sample.file : item.file;
}

function Listening({ copyId, code, sounds, over }: ListeningProps) {
  const player = usePlayer();
  const groups = useMemo(() => groupsOf(sounds), [sounds]);
  const items = useMemo(() => groups.flatMap((group) => group.items), [groups]);
  const named = useSearchParams().get('file');
  const [chosen, setChosen] = useState<Item | null>(() => firstOf(items, named));
  const [wasAsked, setWasAsked] = useState(false);
  const rate = useRate(copyId);
  const [takesOut, setTakesOut] = useState(false);
  const out = useSoundsOut(copyId, () => setTakesOut(true));
  const choose = useCallback((item: Item) => {
    setChosen(item);
    setWasAsked(true);
  }, []);
  const step = (by: number) => {
    const at = items.findIndex(({ key }) => key === chosen?.key);
    const next = items[Math.max(0, Math.min(items.length - 1, at + by))];
    if (next && next.key !== chosen?.key) choose(next);
  };
  useKey('ArrowDown', () => step(1));
  useKey('ArrowUp', () => step(-1));
  return (
    <>
      <PageHead over={over} title={titleOf(items, sounds)}>
        {items.length + sounds.tracks.length > 0 && <SheetLinks copyId={copyId} code={code} />}
        {isHeld(sounds) && <TakeSoundsOut {...out} />}
      </PageHead>
      {takesOut && <ExtractRows />}
      <DiscTracks copyId={copyId} disc={sounds.disc} hasCursor={items.length === 0} />
      {items.length === 0 && sounds.tracks.length === 0 && (
        <EmptyState>{say.sounds.noneAreKnown}</EmptyState>
      )}
      <Problems problems={sounds.volumes.flatMap(({ problems }) => problems)} />
      {chosen && (
        <div className="grid grid-cols-[330px_1fr] gap-4">
          <div>
            <SoundList groups={groups} chosen={chosen.key} choose={choose} />
            <TakeVolumeOut
              groups={groups}
              group={groups.find(({ items: own }) => own.includes(chosen))}
              {...out}
            />
          </div>
          <div className="min-w-0">
            <Chosen item={chosen} playsAtOnce={wasAsked} {...{ player, out, rate }} />
          </div>
        </div>
      )}
    </>
  );
}

interface ChosenProps {
  item: Item;
  player: Player;
  playsAtOnce: boolean;
  out: SoundsOut;
  rate: Rate;
}

function Chosen({ item, player, playsAtOnce, out, rate }: ChosenProps) {
  if (item.kind === 'program')
    return <OfProgram key={item.key} item={item} player={player} out={out} />;
  return (
    <SoundPanel
      key={`${item.key} ${rate.asIf}`}
      item={heardAt(item, rate)}
      {...{ player, playsAtOnce, rate }}
    />
  );
}

interface OfProgramProps {
  item: Item & { kind: 'program' };
  player: Player;
  out: SoundsOut;
}

function OfProgram({ item, player, out }: OfProgramProps) {
  const { program, samples } = item;
  useEffect(() => () => player.stopAll(), [player, program]);
  return (
    <>
      <h2>{program.name}</h2>
      <p className="mb-3 text-[13px] text-ink-2">
        {say.sounds.programIs({ number: program.midiProgram, regions: program.regions.length })}
      </p>
      <ProgramKeys program={program} samples={samples} player={player} />
      <div className="mt-3 flex items-start gap-3">
        <TakeProgramOut file={program.file} {...out} />
        <ToneChart player={player} />
      </div>
      <ZoneTable regions={program.regions} />
      <Problems problems={program.problems} />
    </>
  );
}
