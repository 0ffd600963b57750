'use client';
/** A file, or a stretch of an image, heard as it lies, by what a person sets of it. */
import { useMutation, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useSearchParams } from 'next/navigation';
import { useMemo, useState } from 'react';
import { FIRST_SETTINGS, rawWav, type RawSettings } from '@/core/sound/raw-sound';
import { grouped } from '@/core/text/grouped';
import { say } from '@/messages';
import { post } from '../../data/api';
import { docketQuery, hearingQuery, type Hearing, type HearingAsked } from '../../data/queries';
import { Button } from '../../parts/button';
import { ErrorAlert, PageHead } from '../../parts/page';
import { PlayedSound } from '../sound-panel';
import { MOST_RAW_BYTES, bytesAt, heardAsSet } from '../sound-source';
import { usePlayer } from '../use-player';
import { SettingsForm } from './settings-form';
import { docketPage } from '../../data/addresses';

/** What the address means: a file, or a stretch. */
function askedIn(address: URLSearchParams): HearingAsked {
  const file = address.get('file');
  if (file !== null) return { file };
  return { from: address.get('from') ?? '0', length: address.get('length') ?? '1' };
}

export function HearingView({ code }: { code: string }) {
  const asked = askedIn(useSearchParams());
  const { data: docket } = useQuery(docketQuery(code));
  const id = docket?.copy?.id;
  const { data, error } = useQuery({ ...hearingQuery(id ?? 0, asked), enabled: id !== undefined });
  const over = (
    <Link href={docketPage(code)} className="underline">
      {code}
      {docket ? `, ${docket.medium.title}` : ''}
    </Link>
  );
  return (
    <>
      <PageHead over={over} title={data ? titleOf(data) : say.sounds.lookingForSounds} />
      <ErrorAlert>{error?.message}</ErrorAlert>
      {id !== undefined && data && <AsSet copyId={id} hearing={data} />}
    </>
  );
}

const titleOf = ({ name, from, length }: Hearing): string =>
  say.sounds.bytesAsSound({
    bytes: grouped(length),
    name: name ?? say.sounds.theImage({ from: grouped(from) }),
  });

const addressOf = (copyId: number, { fileId, from, length }: Hearing): string =>
  fileId === null
    ? `/api/copies/${copyId}/stretch?from=${from}&length=${length}`
    : `/api/files/${fileId}?listen`;

function AsSet({ copyId, hearing }: { copyId: number; hearing: Hearing }) {
  const player = usePlayer();
  const [settings, setSettings] = useState<RawSettings>(hearing.settings ?? FIRST_SETTINGS);
  const [wasSet, setWasSet] = useState(false);
  const { data: bytes, error } = useQuery({
    queryKey: ['image', copyId, 'heard', hearing.fileId, hearing.from, hearing.length],
    queryFn: () => bytesAt(addressOf(copyId, hearing)),
    staleTime: Infinity,
    gcTime: 0,
    retry: false,
  });
  const name =
    hearing.name?.split('/').pop() ?? say.sounds.theImage({ from: grouped(hearing.from) });
  const heard = useMemo(() => bytes && heardAsSet(bytes, settings, name), [bytes, settings, name]);
  return (
    <div className="grid grid-cols-[300px_minmax(0,1fr)] gap-6">
      <div>
        <SettingsForm
          settings={settings}
          setSettings={(next) => {
            setWasSet(true);
            setSettings(next);
          }}
        />
        <Keeping copyId={copyId} hearing={hearing} settings={settings} />
        {bytes && <AsWav bytes={bytes} settings={settings} name={name} />}
      </div>
      <div className="min-w-0">
        {!hearing.settings && (
          <p className="mb-3 max-w-[70ch] text-[13px] text-ink-2">{say.sounds.nothingSaysHow}</p>
        )}
        {hearing.length - settings.skip > MOST_RAW_BYTES && (
          <p className="mb-3 text-[13px] text-ink-2">
            {say.sounds.onlyTheFirstHeard({ mebibytes: MOST_RAW_BYTES >> 20 })}
          </p>
        )}
        <ErrorAlert>{error && say.sounds.canNotBeHeard({ why: error.message })}</ErrorAlert>
        {heard && (
          // What is set anew is heard at once.
          <PlayedSound
            key={JSON.stringify(settings)}
            heard={heard}
            player={player}
            playsAtOnce={wasSet}
          />
        )}
      </div>
    </div>
  );
}

interface KeepingProps {
  copyId: number;
  hearing: Hearing;
  settings: RawSettings;
}

/** Keeps how it is set with the file or the stretch. */
function Keeping({ copyId, hearing, settings }: KeepingProps) {
  const { fileId, from, length } = hearing;
  const [kept, setKept] = useState(hearing.settings);
  const keep = useMutation({
    mutationFn: () =>
      post(`/api/copies/${copyId}/hearing`, {
        place: fileId === null ? { from, length } : { file: fileId },
        settings,
      }),
    onSuccess: () => setKept(settings),
  });
  const isKept = JSON.stringify(kept) === JSON.stringify(settings);
  return (
    <div className="mt-4">
      <Button
        hotkey="k"
        tone="primary"
        disabled={isKept || keep.isPending}
        onClick={() => keep.mutate()}
      >
        {isKept ? say.sounds.asTheyAreKept : say.sounds.keepTheseSettings}
      </Button>
      <ErrorAlert>{keep.error?.message}</ErrorAlert>
    </div>
  );
}

interface AsWavProps {
  bytes: Uint8Array;
  settings: RawSettings;
  name: string;
}

/** Saved as it is heard, without loss. */
function AsWav({ bytes, settings, name }: AsWavProps) {
  const save = () => {
    const address = URL.createObjectURL(new Blob([rawWav(bytes, settings)], { type: 'audio/wav' }));
    const link = document.createElement('a');
    link.href = address;
    link.download = `${name}.wav`;
    link.click();
    // The download has begun by then, and holds what it needs.
    setTimeout(() => URL.revokeObjectURL(address), 60_000);
  };
  return (
    <button
      type="button"
      onClick={save}
      className="mt-3 text-[13px] font-[650] text-oxide underline"
    >
      {say.sounds.asWav}
    </button>
  );
}
