'use client';
/** Files of many media taken out at once: begun here, watched, given up, fetched. */
import { useMutation, UseMutationResult, useQuery } from '@tanstack/react-query';
import { Dispatch, SetStateAction, useState } from 'react';
import { isRefusedFor, post, remove } from '../data/api';
import { extractsQuery, type ExtractRow } from '../data/queries';
import { Button } from '../parts/button';
import { Gauge } from '../parts/gauge';
import { Dialog } from '../parts/dialog';
import { grouped } from '@/core/text/grouped';
import { ErrorAlert, onDay, when } from '../parts/page';
import { ProtectedDownload } from '../parts/protected-download';
import { PackingTrial } from './packing-trial';
import type { ExtractAsked } from '@/server/features/extracts/extracts';
import { StaysHere } from '../rights/stays-here';
import { say } from '@/messages';

function Row({ row }: { row: ExtractRow }) {
  const giveUp = useMutation({ mutationFn: () => remove(`/api/extracts/${row.id}`) });
  const running = row.state === 'waiting' || row.state === 'running';
  return (
    <li
      className="flex items-center gap-4 border-b border-line py-1.5 text-[13px]"
      data-extract={row.state}
    >
      <span className="w-40 text-ink-2" suppressHydrationWarning>
        {when(row.startedAt)}, {row.who}
      </span>
      <WhatIsTaken row={row} />
      {running ? <ExtractRunning row={row} /> : <ExtractEnded row={row} />}
      {running && (
        <button
          type="button"
          disabled={giveUp.isPending}
          onClick={() => giveUp.mutate()}
          className="font-[650] text-oxide underline"
        >
          {say.holdings.giveItUp}
        </button>
      )}
      {row.state === 'done' && <ExtractLink row={row} />}
      {row.state === 'done' && (
        <ProtectedDownload href={`/api/extracts/${row.id}`} name={`extract-${row.id}.zip`} />
      )}
    </li>
  );
}

const WHAT = [
  ['files', say.holdings.theirFilesAFolder],
  ['images', say.holdings.theirImagesEachWith],
  ['packed', say.holdings.theirImagesPackedSo],
  ['sounds', say.holdings.theirSounds],
  ['flac', say.holdings.theirSoundsPacked],
] as const;
type What = (typeof WHAT)[number][0];

/** What is asked for by each choice. */
const ASKED: Readonly<Record<What, Pick<ExtractAsked, 'what' | 'packed'>>> = Object.freeze({
  files: { what: 'files' },
  images: { what: 'images' },
  packed: { what: 'images', packed: true },
  sounds: { what: 'sounds' },
  flac: { what: 'sounds', packed: true },
});

/** What rows say behind how many media they are of. */
function kindOf({ what, packed, asText }: ExtractRow): string {
  if (what === 'images') return packed ? say.holdings.imagesPacked : say.holdings.images;
  if (what === 'sounds') return packed ? say.holdings.soundsPacked : say.holdings.sounds;
  return asText ? say.holdings.withTexts : '';
}

/** More are not tried, only packed. */
const MAX_TRIED = 500;

function WhatIsTaken({ row }: { row: ExtractRow }) {
  return (
    <span className="w-44">
      {say.holdings.media({ media: row.media })}
      {kindOf(row)}
    </span>
  );
}

function ExtractRunning({ row }: { row: ExtractRow }) {
  return (
    <span className="flex flex-1 items-center gap-3">
      <Gauge
        label={say.holdings.filesTakenOut}
        done={row.filesDone}
        of={row.filesInAll}
        className="w-52"
      />
      {say.holdings.of2({
        filesDone: grouped(row.filesDone),
        filesInAll: grouped(row.filesInAll),
      })}{' '}
      {row.what === 'images' ? say.holdings.images2 : say.holdings.files} · {row.now}
    </span>
  );
}

function ExtractEnded({ row }: { row: ExtractRow }) {
  return (
    <span className="flex-1">
      {row.state === 'expired' ? say.holdings.itsZipIsNo : row.now}
      {row.keptUntil && (
        <span className="text-ink-2" suppressHydrationWarning>
          {' '}
          {say.holdings.keptUntil({ keptUntil: onDay(row.keptUntil) })}
        </span>
      )}
    </span>
  );
}

function ExtractLink({ row }: { row: ExtractRow }) {
  return (
    <a href={`/api/extracts/${row.id}`} className="font-[650] text-oxide underline">
      {say.holdings.download} {row.isAlone ? say.holdings.thePackedImage : say.holdings.theZip}
    </a>
  );
}

/** The button, with the question behind it. */
export function TakeOut({ copies, stays }: { copies: readonly number[]; stays: number }) {
  const [open, setOpen] = useState(false);
  const [asText, setAsText] = useState(false);
  const [what, setWhat] = useState<What>('files');
  const start = useMutation({
    mutationFn: (acknowledgesQuarantine: boolean) =>
      post('/api/extracts', {
        copies: [...copies],
        ...ASKED[what],
        asText: what === 'files' && asText,
        acknowledgesQuarantine,
      } satisfies ExtractAsked),
    onSuccess: () => setOpen(false),
  });
  const held = isRefusedFor(start.error, 'in-quarantine');
  return (
    <>
      <Button
        hotkey="x"
        disabled={copies.length === 0}
        onClick={() => {
          start.reset();
          setOpen(true);
        }}
      >
        {say.holdings.takeThemOut}
      </Button>
      <Dialog
        open={open}
        onOpenChange={setOpen}
        title={say.holdings.takeMediaOutAs({ copies: copies.length })}
        about={say.holdings.itIsMadeIn}
      >
        <StaysHere stays={stays} />
        <WhatToTake what={what} setWhat={setWhat} />
        {what === 'packed' && open && <PackingTrial copies={copies.slice(0, MAX_TRIED)} />}
        {what === 'files' && <TextsToo asText={asText} setAsText={setAsText} />}
        <ErrorAlert>{start.error?.message}</ErrorAlert>
        <TakeOutFoot setOpen={setOpen} held={held} start={start} />
      </Dialog>
    </>
  );
}

interface WhatToTakeProps {
  what: string;
  setWhat: Dispatch<SetStateAction<What>>;
}

function TextsToo({
  asText,
  setAsText,
}: {
  asText: boolean;
  setAsText: Dispatch<SetStateAction<boolean>>;
}) {
  return (
    <label className="my-3 flex items-center gap-2">
      <input
        type="checkbox"
        checked={asText}
        onChange={(event) => setAsText(event.target.checked)}
        className="size-4"
      />
      {say.holdings.besideEachTextAnd}
    </label>
  );
}

function WhatToTake({ what, setWhat }: WhatToTakeProps) {
  return (
    <fieldset className="my-3 space-y-1.5">
      <legend className="sr-only">{say.holdings.whatIsTakenOut}</legend>
      {WHAT.map(([value, name]) => (
        <label key={value} className="flex items-center gap-2">
          <input
            type="radio"
            name="what"
            checked={what === value}
            onChange={() => setWhat(value)}
            className="size-4"
          />
          {name}
        </label>
      ))}
    </fieldset>
  );
}

function TakeOutFoot({
  setOpen,
  held,
  start,
}: {
  setOpen: Dispatch<SetStateAction<boolean>>;
  held: boolean;
  start: UseMutationResult<unknown, Error, boolean, unknown>;
}) {
  return (
    <div className="flex justify-end gap-3">
      <Button onClick={() => setOpen(false)}>{say.holdings.leaveIt}</Button>
      {held && (
        <Button onClick={() => start.mutate(true)} disabled={start.isPending}>
          {say.holdings.takeEverythingKnowingly}
        </Button>
      )}
      <Button tone="primary" onClick={() => start.mutate(false)} disabled={start.isPending}>
        {say.holdings.takeThemOut}
      </Button>
    </div>
  );
}

/** Those under way and the last ones. */
export function ExtractRows() {
  const { data: rows = [] } = useQuery(extractsQuery);
  return rows.length === 0 ? null : (
    <ul
      data-testid="extracts"
      aria-label={say.holdings.filesTakenOut}
      aria-live="polite"
      className="mb-4"
    >
      {rows.slice(0, 3).map((row) => (
        <Row key={row.id} row={row} />
      ))}
    </ul>
  );
}
