'use client';
/** The sounds of everything kept in one list: found, gone through by keys and heard at once. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useCallback, useDeferredValue, useState } from 'react';
import { grouped } from '@/core/text/grouped';
import { say } from '@/messages';
import { heldSoundsQuery, type HeldSounds, type SoundsAsked } from '../../data/queries';
import { useKey } from '../../parts/keys';
import { EmptyState, ErrorAlert, PageHead } from '../../parts/page';
import { HeldSoundsTable, type HeldSound } from './held-sounds-table';
import { SoundFilter } from './sound-filter';
import { atRate, useRate, type Rate } from '../rate-choice';
import { SoundPanel, type Single } from '../sound-panel';
import { TakeSoundsOut, useFoundOut } from '../take-sounds-out';
import { ExtractRows } from '../../holdings/extracts';
import { usePlayer } from '../use-player';
import { docketPage } from '../../data/addresses';

function titleOf(data: HeldSounds | undefined): string {
  const { sounds = 0, media = 0 } = data?.total ?? {};
  return say.sounds.soundsOnMedia({ sounds: grouped(sounds), media: grouped(media) });
}

const isNarrowed = (asked: SoundsAsked) =>
  Object.entries(asked).some(
    ([key, value]) => key !== 'more' && value !== undefined && value !== '',
  );

export function HeldSoundsView() {
  const [asked, setAsked] = useState<SoundsAsked>({});
  const later = useDeferredValue(asked);
  const { data, error } = useQuery({
    ...heldSoundsQuery(later),
    placeholderData: keepPreviousData,
  });
  const rows = data?.rows ?? [];
  const [takesOut, setTakesOut] = useState(false);
  const out = useFoundOut(later, () => setTakesOut(true));
  return (
    <>
      <PageHead
        over={
          <Link href="/holdings" className="underline">
            {say.sounds.holdings}
          </Link>
        }
        title={titleOf(data)}
      >
        {rows.some(({ sample }) => sample) && <TakeSoundsOut {...out} />}
      </PageHead>
      {takesOut && rows.some(({ sample }) => !sample) && (
        <p className="mb-2 text-[13px] text-ink-2">{say.sounds.filesLeaveAsFiles}</p>
      )}
      {takesOut && <ExtractRows />}
      <SoundFilter asked={asked} rates={data?.rates ?? []} setAsked={setAsked} />
      <ErrorAlert>{error?.message}</ErrorAlert>
      {data && rows.length === 0 && (
        <EmptyState>
          {isNarrowed(later) ? say.sounds.noSoundAnswers : say.sounds.noSoundIsHeld}
        </EmptyState>
      )}
      {rows.length > 0 && (
        <Found
          rows={rows}
          onMore={data!.isAll ? null : () => setAsked({ ...asked, more: (asked.more ?? 0) + 1 })}
          onSame={(pcm) => setAsked({ pcm })}
        />
      )}
    </>
  );
}

function itemOf({ id, sample, file, path }: HeldSound, rate: Rate): Single {
  const key = `held ${id}`;
  return sample
    ? { kind: 'sample', key, sample: atRate(sample, rate), playedBy: null }
    : { kind: 'file', key, file, path };
}

interface FoundProps {
  rows: readonly HeldSound[];
  onMore: (() => void) | null;
  onSame: (pcm: string) => void;
}

/** What is found, and the one that is chosen. */
function Found({ rows, onMore, onSame }: FoundProps) {
  const player = usePlayer();
  const [chosenId, setChosenId] = useState<number | null>(null);
  // What was chosen may not be among those that another question found.
  const found = rows.findIndex(({ id }) => id === chosenId);
  const at = Math.max(0, found);
  const chosen = rows[at]!;
  const choose = useCallback(({ id }: HeldSound) => setChosenId(id), []);
  const step = (by: number) => {
    const next = rows[Math.max(0, Math.min(rows.length - 1, found < 0 ? 0 : at + by))]!;
    choose(next);
  };
  useKey('ArrowDown', () => step(1));
  useKey('ArrowUp', () => step(-1));
  const rate = useRate(chosen.copyId);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_430px] gap-5">
      <HeldSoundsTable
        rows={rows}
        chosen={chosen.id}
        choose={choose}
        onSame={onSame}
        onMore={onMore}
      />
      <section aria-label={chosen.name} className="min-w-0">
        <p className="mb-1 text-[13px] text-ink-2">
          <Link href={docketPage(chosen.code, `/sounds?file=${chosen.file}`)} className="underline">
            {say.sounds.amongTheOthersOf({ code: chosen.code, title: chosen.title })}
          </Link>
        </p>
        <SoundPanel
          key={`${chosen.id} ${rate.asIf}`}
          item={itemOf(chosen, rate)}
          player={player}
          playsAtOnce={found >= 0}
          rate={rate}
        />
      </section>
    </div>
  );
}
