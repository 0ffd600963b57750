'use client';
/** An image byte by byte: what lies where, its strings, and a search through it. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useSearchParams } from 'next/navigation';
import { Dispatch, SetStateAction, useMemo, useState, type FormEvent } from 'react';
import { docketQuery, findQuery, imageBytesQuery, imageMapQuery } from '@/ui/data/queries';
import { grouped } from '@/core/text/grouped';
import { HexRows, hexPlace } from '@/ui/parts/hex-rows';
import { useKey } from '@/ui/parts/keys';
import { EmptyState, PageHead, ErrorAlert } from '@/ui/parts/page';
import { Strings } from './image-strings';
import { marksOf, LiesHere } from './lies-here';
import type { ImageBytes } from '@/ui/data/queries';
import { BytesTools } from './bytes-tools';
import { say } from '@/messages';
import { docketPage } from '../../data/addresses';

const PER_ROW = 16;

/** Bytes in view, and moved by a key. */
const WINDOW = 24 * PER_ROW;

const STEP = 16 * PER_ROW;

function bytesOf(hex: string): Uint8Array {
  return Uint8Array.from({ length: hex.length / 2 }, (_, i) =>
    parseInt(hex.slice(2 * i, 2 * i + 2), 16),
  );
}

/** `1A00h`, `0x1a00` and `1A00` are places in hexadecimal; with a point at the end, in decimal. */
function placeTyped(text: string): number | null {
  const typed = text.trim().replace(/[\s_]/g, '');
  const [, decimal] = /^(\d+)\.$/.exec(typed) ?? [];
  if (decimal) return Number(decimal);
  const [, hex] = /^(?:0x)?([0-9a-f]{1,12})h?$/i.exec(typed) ?? [];
  return hex ? parseInt(hex, 16) : null;
}

const tab =
  'border-b-2 border-transparent px-1 pb-0.5 text-[13px] aria-pressed:border-oxide ' +
  'aria-pressed:font-[650]';

export function BytesView({ code }: { code: string }) {
  const { data: docket } = useQuery(docketQuery(code));
  const copy = docket?.copy;
  if (!docket) return <PageHead title={say.bytes.opening({ code })} />;
  const over = (
    <Link href={docketPage(code)} className="underline">
      {code}, {docket.medium.title}
    </Link>
  );
  if (!copy)
    return (
      <>
        <PageHead over={over} title={say.bytes.thereIsNoImage} />
        <EmptyState>{say.bytes.aSittingMakesThe}</EmptyState>
      </>
    );
  return <Looking key={copy.id} code={code} id={copy.id} over={over} />;
}

const lastRow = (size: number) => Math.floor(Math.max(0, size - 1) / PER_ROW) * PER_ROW;

/** Which bytes are shown, and which one is marked. */
function usePlace(asked: number | null, size: number) {
  const [from, setFrom] = useState(Math.floor((asked ?? 0) / PER_ROW) * PER_ROW);
  const [cursor, setCursor] = useState<number | null>(asked);
  const move = (to: number) => {
    const row = Math.floor(to / PER_ROW) * PER_ROW;
    setFrom(Math.max(0, Math.min(lastRow(size), row)));
  };
  const go = (to: number) => {
    setCursor(to);
    move(to - 4 * PER_ROW);
  };
  return { from, cursor, setCursor, move, go };
}

/** The place that is found next behind `at`, or before it; from an end it goes on at the other. */
function nextOf(offsets: readonly number[], at: number, by: 1 | -1): number | undefined {
  if (by > 0) return offsets.find((offset) => offset > at) ?? offsets[0];
  return offsets.findLast((offset) => offset < at) ?? offsets.at(-1);
}

function Looking({ code, id, over }: { code: string; id: number; over: React.ReactNode }) {
  const asked = placeTyped(useSearchParams().get('at') ?? '');
  const [side, setSide] = useState<'here' | 'strings'>('here');
  const [typed, setTyped] = useState('');
  const [sought, setSought] = useState('');
  const [place, setPlace] = useState('');
  const { data: map } = useQuery(imageMapQuery(id));
  const size = map?.size ?? 0;
  const { from, cursor, setCursor, move, go } = usePlace(asked, size);
  const { data } = useQuery({
    ...imageBytesQuery(id, from, WINDOW),
    placeholderData: keepPreviousData,
  });
  const { data: found, error } = useQuery({ ...findQuery(id, sought), enabled: sought !== '' });
  const next = (by: 1 | -1) => {
    const to = nextOf(found?.offsets ?? [], cursor ?? from - 1, by);
    if (to !== undefined) go(to);
  };
  useBytesKeys(move, from, size, setSide, side);
  const bytes = useMemo(() => bytesOf(data?.hex ?? ''), [data?.hex]);
  const search = (event: FormEvent) => {
    event.preventDefault();
    setSought(typed.trim());
  };
  const jump = (event: FormEvent) => {
    event.preventDefault();
    const to = placeTyped(place);
    if (to !== null) go(Math.min(to, Math.max(0, size - 1)));
  };
  const seeking = { typed, setTyped, setSought, search, found, next };
  return (
    <>
      <PageHead over={<Over size={size}>{over}</Over>} title={titleOf(sought, found, data)}>
        {size > 0 && <HearFromHere code={code} from={cursor ?? from} size={size} />}
      </PageHead>
      <BytesTools {...seeking} jump={jump} place={place} setPlace={setPlace} map={map} go={go} />
      <ErrorAlert>{error?.message}</ErrorAlert>
      <div className="grid grid-cols-[minmax(0,1fr)_380px] gap-6">
        <BytesPane
          data={data}
          bytes={bytes}
          sought={sought}
          found={found}
          cursor={cursor}
          setCursor={setCursor}
        />
        <BesideBytes side={side} setSide={setSide} id={id} go={go} data={data} code={code} />
      </div>
    </>
  );
}

/** As many bytes as are heard at once where nobody said how many. */
const HEARD = 1 << 20;

function HearFromHere({ code, from, size }: { code: string; from: number; size: number }) {
  const length = Math.min(HEARD, size - from);
  return (
    <Link
      href={docketPage(code, `/hearing?from=${from}&length=${length}`)}
      className="self-center text-[13px] font-[650] text-oxide underline"
    >
      {say.bytes.hearFromHere}
    </Link>
  );
}

function Over({ size, children }: { size: number; children: React.ReactNode }) {
  return (
    <>
      {children} {say.bytes.bytes({ size: grouped(size) })}
    </>
  );
}

function useBytesKeys(
  move: (to: number) => void,
  from: number,
  size: number,
  setSide: Dispatch<SetStateAction<'strings' | 'here'>>,
  side: string,
) {
  useKey('ArrowDown', () => move(from + STEP));
  useKey('ArrowUp', () => move(from - STEP));
  useKey('PageDown', () => move(from + WINDOW));
  useKey('PageUp', () => move(from - WINDOW));
  useKey('Home', () => move(0));
  useKey('End', () => move(size - WINDOW));
  useKey('s', () => setSide(side === 'here' ? 'strings' : 'here'));
}

function titleOf(
  sought: string,
  found: { length: number; offsets: number[]; count: number } | undefined,
  data: ImageBytes | undefined,
) {
  return sought && found
    ? say.bytes.inThisImage({ count: found.count, count2: grouped(found.count) })
    : data?.areas[0]
      ? say.bytes.text({ name: data.areas[0].name, areas: data.areas.length })
      : data?.files[0]
        ? say.bytes.bytesOf({ path: data.files[0].path })
        : say.bytes.bytesOfNoFile;
}

interface BytesPaneProps {
  data: ImageBytes | undefined;
  bytes: Uint8Array<ArrayBufferLike>;
  sought: string;
  found: { length: number; offsets: number[]; count: number } | undefined;
  cursor: number | null;
  setCursor: Dispatch<SetStateAction<number | null>>;
}

function BytesPane({ data, bytes, sought, found, cursor, setCursor }: BytesPaneProps) {
  return (
    <div>
      <pre
        data-testid="image-bytes"
        tabIndex={0}
        aria-label={say.bytes.bytesOfTheImage}
        className="overflow-x-auto bg-sheet px-3 py-2 font-mono text-[13px] leading-[21px]"
      >
        {data && (
          <HexRows
            bytes={bytes}
            from={data.from}
            perRow={PER_ROW}
            marks={marksOf(data, sought ? found : undefined, cursor)}
            onPick={setCursor}
          />
        )}
      </pre>
      <p className="mt-1 text-[12px] text-ink-2">
        {data &&
          say.bytes.to({
            from: hexPlace(data.from),
            from2: hexPlace(data.from + bytes.length - 1),
          })}{' '}
        {say.bytes.movePageKeysTurn}
      </p>
    </div>
  );
}

interface BesideBytesProps {
  side: string;
  setSide: Dispatch<SetStateAction<'strings' | 'here'>>;
  id: number;
  go: (to: number) => void;
  data: ImageBytes | undefined;
  code: string;
}

function BesideBytes({ side, setSide, id, go, data, code }: BesideBytesProps) {
  return (
    <aside className="max-h-[calc(100vh-230px)] overflow-auto pr-1">
      <p className="mb-2 flex gap-4">
        <button
          type="button"
          aria-pressed={side === 'here'}
          onClick={() => setSide('here')}
          className={tab}
        >
          {say.bytes.whatLiesHere}
        </button>
        <button
          type="button"
          aria-pressed={side === 'strings'}
          onClick={() => setSide('strings')}
          className={tab}
        >
          {say.bytes.stringsS}
        </button>
      </p>
      {side === 'strings' ? (
        <Strings id={id} onGo={go} />
      ) : (
        data && <LiesHere data={data} code={code} onGo={go} />
      )}
    </aside>
  );
}
