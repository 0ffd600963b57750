'use client';
/** An image byte by byte: what lies where, its strings, and a search through it. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useSearchParams } from 'next/navigation';
import { useMemo, useState, type FormEvent } from 'react';
import { docketQuery, findQuery, imageBytesQuery, imageMapQuery } from '../data/queries';
import { Button } from '../parts/button';
import { grouped } from '../parts/grade';
import { HexRows, hexPlace } from '../parts/hex-rows';
import { useKey } from '../parts/keys';
import { EmptyState, PageHead, ErrorAlert } from '../parts/page';
import { Strings } from './image-strings';
import { marksOf, LiesHere } from './lies-here';
import { input } from './bytes-input';

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
  if (!docket) return <PageHead title={`Opening ${code} …`} />;
  const over = (
    <Link href={`/media/${code}`} className="underline">
      {code}, {docket.medium.title}
    </Link>
  );
  if (!copy)
    return (
      <>
        <PageHead over={over} title="There is no image yet" />
        <EmptyState>
          A sitting makes the first one; then it can be looked at here byte by byte.
        </EmptyState>
      </>
    );
  return <Looking key={copy.id} code={code} id={copy.id} over={over} />;
}

function Looking({ code, id, over }: { code: string; id: number; over: React.ReactNode }) {
  const parameters = useSearchParams();
  const asked = placeTyped(parameters.get('at') ?? '');
  const [from, setFrom] = useState(Math.floor((asked ?? 0) / PER_ROW) * PER_ROW);
  const [cursor, setCursor] = useState<number | null>(asked);
  const [side, setSide] = useState<'here' | 'strings'>('here');
  const [typed, setTyped] = useState('');
  const [sought, setSought] = useState('');
  const [place, setPlace] = useState('');
  const { data: map } = useQuery(imageMapQuery(id));
  const { data } = useQuery({
    ...imageBytesQuery(id, from, WINDOW),
    placeholderData: keepPreviousData,
  });
  const { data: found, error } = useQuery({ ...findQuery(id, sought), enabled: sought !== '' });
  const size = map?.size ?? data?.size ?? 0;
  const move = (to: number) =>
    setFrom(
      Math.max(
        0,
        Math.min(
          Math.floor(Math.max(0, size - 1) / PER_ROW) * PER_ROW,
          Math.floor(to / PER_ROW) * PER_ROW,
        ),
      ),
    );
  const go = (to: number) => {
    setCursor(to);
    move(to - 4 * PER_ROW);
  };
  const next = (by: 1 | -1) => {
    const at = cursor ?? from - 1;
    const to =
      by > 0
        ? (found?.offsets.find((offset) => offset > at) ?? found?.offsets[0])
        : ([...(found?.offsets ?? [])].reverse().find((offset) => offset < at) ??
          found?.offsets[found.offsets.length - 1]);
    if (to !== undefined) go(to);
  };
  useKey('ArrowDown', () => move(from + STEP));
  useKey('ArrowUp', () => move(from - STEP));
  useKey('PageDown', () => move(from + WINDOW));
  useKey('PageUp', () => move(from - WINDOW));
  useKey('Home', () => move(0));
  useKey('End', () => move(size - WINDOW));
  useKey('s', () => setSide(side === 'here' ? 'strings' : 'here'));
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
  const title =
    sought && found
      ? found.count === 0
        ? 'It is not in this image'
        : `It stands ${found.count === 1 ? 'once' : `${grouped(found.count)} times`} in this image`
      : data?.areas[0]
        ? `${data.areas[0].name}${data.areas.length > 1 ? ' and more' : ''}`
        : data?.files[0]
          ? `Bytes of ${data.files[0].path}`
          : 'Bytes of no file and no table';
  return (
    <>
      <PageHead
        over={
          <>
            {over} · {grouped(size)} bytes
          </>
        }
        title={title}
      />
      <div className="mb-3 flex flex-wrap items-end gap-x-5 gap-y-2">
        <form onSubmit={search} className="flex items-end gap-2">
          <label className="text-[13px] text-ink-2">
            Search: “a text” in quotes, or hexadecimal, ?? for any byte
            <br />
            <input
              value={typed}
              onChange={(event) => setTyped(event.target.value)}
              className={`${input} w-72 font-mono text-ink`}
              aria-label="Search the image"
            />
          </label>
          <Button onClick={() => setSought(typed.trim())}>Search</Button>
        </form>
        {(found?.offsets.length ?? 0) > 0 && (
          <span className="flex gap-2">
            <Button hotkey="p" onClick={() => next(-1)}>
              Previous
            </Button>
            <Button hotkey="n" onClick={() => next(1)}>
              Next
            </Button>
          </span>
        )}
        <form onSubmit={jump} className="flex items-end gap-2">
          <label className="text-[13px] text-ink-2">
            Go to a place, hexadecimal
            <br />
            <input
              value={place}
              onChange={(event) => setPlace(event.target.value)}
              className={`${input} w-32 font-mono text-ink`}
              placeholder="1A00h"
            />
          </label>
        </form>
        {map && map.areas.length > 0 && (
          <label className="text-[13px] text-ink-2">
            Go to a table
            <br />
            <select
              value=""
              onChange={(event) => go(Number(event.target.value))}
              className={`${input} max-w-72 text-ink`}
            >
              <option value="" disabled>
                {map.areas.length} of them
              </option>
              {map.areas.map(({ name, offset, volume }) => (
                <option key={`${name}${offset}`} value={offset}>
                  {name}
                  {volume && `, ${volume}`}
                </option>
              ))}
            </select>
          </label>
        )}
      </div>
      <ErrorAlert>{error?.message}</ErrorAlert>
      <div className="grid grid-cols-[minmax(0,1fr)_380px] gap-6">
        <div>
          <pre
            data-testid="image-bytes"
            tabIndex={0}
            aria-label="Bytes of the image"
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
            {data && `${hexPlace(data.from)} to ${hexPlace(data.from + bytes.length - 1)}`} · ↑ ↓
            move, Page keys turn, Home and End jump · underlined: a field of a table · hatched: no
            sound sector
          </p>
        </div>
        <aside className="max-h-[calc(100vh-230px)] overflow-auto pr-1">
          <p className="mb-2 flex gap-4">
            <button
              type="button"
              aria-pressed={side === 'here'}
              onClick={() => setSide('here')}
              className={tab}
            >
              What lies here
            </button>
            <button
              type="button"
              aria-pressed={side === 'strings'}
              onClick={() => setSide('strings')}
              className={tab}
            >
              Strings · S
            </button>
          </p>
          {side === 'strings' ? (
            <Strings id={id} onGo={go} />
          ) : (
            data && <LiesHere data={data} code={code} onGo={go} />
          )}
        </aside>
      </div>
    </>
  );
}
