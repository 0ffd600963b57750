'use client';
/**
 * The docket: one page a medium, read top to bottom in the order of the work, with an index at its
 * side.
 */
import { useMutation, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { Fragment, useState, type ReactNode } from 'react';
import { post } from '../data/api';
import { docketQuery, type DocketData } from '../data/queries';
import { EventList, MediumRow, EmptyState, ErrorAlert, when } from '../parts/page';
import { Contents } from '../copies/contents';
import { SIDE_WORDS } from '@/core/condition';
import { Copies } from '../copies/copies';
import { Origin } from './origin';
import { Papers } from './papers';
import { SetPanel } from './set-panel';
import { Surface } from '../copies/surface';
import { ReadingColumn, type ReadableFile } from '../copies/reading-column';
import { WritebackEntry } from '../writebacks/writeback-entry';

interface Part {
  id: string;
  name: string;
  count: string;
  state: 'done' | 'doubt' | 'missing';
}

/** Of the volumes that are listed, not of images inside them or of other directories. */
const totalOf = (contents: DocketData['contents'], key: 'liveFiles' | 'hurtFiles') =>
  contents.reduce(
    (sum, volume) => (volume.inside === null && volume.view === null ? sum + volume[key] : sum),
    0,
  );

/** What the index says of each part: done, in doubt, or missing. */
function partsOf({
  medium,
  papers,
  sittings,
  copy,
  contents,
  writebacks,
  history,
}: DocketData): Part[] {
  const doubt =
    (copy?.tally?.doubtful ?? 0) + (copy?.tally?.lost ?? 0) + (copy?.tally?.unread ?? 0);
  const files = totalOf(contents, 'liveFiles');
  const problems = contents.reduce((sum, volume) => sum + volume.problems.length, 0);
  const has = (there: boolean): Part['state'] => (there ? 'done' : 'missing');
  return [
    {
      id: 'condition',
      name: 'Condition',
      count: medium.condition ? '' : 'not said',
      state: has(medium.condition !== ''),
    },
    {
      id: 'papers',
      name: 'Photos and papers',
      count: String(papers.length || 'none'),
      state: has(papers.length > 0),
    },
    {
      id: 'sittings',
      name: 'Sittings',
      count: sittings.length > 0 ? String(sittings.length) : copy ? 'elsewhere' : 'none',
      state: has(sittings.length > 0 || copy !== null),
    },
    {
      id: 'surface',
      name: 'Surface',
      count: copy?.tally
        ? doubt > 0
          ? `${doubt.toLocaleString('en')} in doubt`
          : 'sound'
        : 'none',
      state: copy?.tally ? (doubt > 0 ? 'doubt' : 'done') : 'missing',
    },
    {
      id: 'contents',
      name: 'Contents',
      count: contents.length > 0 ? `${files} files` : 'none',
      state: contents.length > 0 ? (problems > 0 ? 'doubt' : 'done') : 'missing',
    },
    { id: 'copies', name: 'Copies', count: copy ? '' : 'none', state: has(copy !== null) },
    {
      id: 'writebacks',
      name: 'Write back',
      count: String(writebacks.length || 'none'),
      state:
        writebacks.length === 0
          ? 'missing'
          : writebacks.some(({ state }) => state === 'unproved' || state === 'failed')
            ? 'doubt'
            : 'done',
    },
    { id: 'history', name: 'History', count: String(history.length), state: 'done' },
  ];
}

const MARKS: Record<Part['state'], ReactNode> = {
  done: <circle cx="6" cy="6" r="5" fill="var(--verdigris)" />,
  doubt: (
    <>
      <rect x="1" y="1" width="10" height="10" fill="none" stroke="var(--grade-doubtful)" />
      <path d="M1 6 6 1M1 11 11 1M6 11 11 6" stroke="var(--grade-doubtful)" strokeWidth="1.5" />
    </>
  ),
  missing: <circle cx="6" cy="6" r="4.5" fill="none" stroke="var(--ink-3)" />,
};

function Section({ id, title, children }: { id: string; title: string; children: ReactNode }) {
  return (
    <section id={id} aria-labelledby={`${id}-title`} className="mb-8 scroll-mt-4">
      <h2 id={`${id}-title`} className="mb-2 text-[20px]">
        {title}
      </h2>
      {children}
    </section>
  );
}

export function DocketView({ code }: { code: string }) {
  const { data } = useQuery(docketQuery(code));
  const [file, setFile] = useState<ReadableFile | null>(null);
  const [filesystem, setFilesystem] = useState('');
  if (!data) return <h1>Opening {code} …</h1>;
  const { medium, copy, contents } = data;
  return (
    <div className="grid min-h-full grid-cols-[190px_1fr] gap-6">
      <aside className="sticky top-0 self-start">
        <MediumRow {...medium} />
        <nav aria-label="Parts of the docket" className="mt-3">
          {partsOf(data).map(({ id, name, count, state }) => (
            <a
              key={id}
              href={`#${id}`}
              className="flex items-center gap-3 px-2 py-1.5 hover:bg-sheet"
            >
              <svg
                width="12"
                height="12"
                viewBox="0 0 12 12"
                role="img"
                aria-label={state === 'doubt' ? 'in doubt' : state}
              >
                {MARKS[state]}
              </svg>
              <span className="flex-1">{name}</span>
              <span className="text-[12px] text-ink-2">{count}</span>
            </a>
          ))}
        </nav>
      </aside>
      <div className="min-w-0 pb-6">
        <h1 className="mb-4">{headline(data)}</h1>
        {data.findings.length > 0 && (
          <div
            role="alert"
            data-testid="quarantine"
            className="mb-5 border-l-[7px] border-oxide bg-oxide-wash px-4 py-3"
          >
            <p className="text-[15px] font-[650]">
              In quarantine: {data.findings.length}{' '}
              {data.findings.length === 1 ? 'signature was' : 'signatures were'} found. Whatever is
              taken out of here may do harm where it is run.
            </p>
            <ul className="mt-1 text-[13px]">
              {data.findings.slice(0, 12).map(({ rule, name, note, path, offset }, i) => (
                <li key={i}>
                  <b>{name}</b> ({rule}) at{' '}
                  <span className="font-mono">{offset.toString(16).toUpperCase()}h</span>
                  {path ? (
                    <>
                      {' '}
                      of <span className="font-mono">{path}</span>
                    </>
                  ) : (
                    ' of the image'
                  )}
                  {note && `: ${note}`}
                </li>
              ))}
            </ul>
          </div>
        )}
        <Section id="condition" title="Condition">
          <p>
            {medium.condition ? (
              <span className="inline-block first-letter:uppercase">{medium.condition}.</span>
            ) : (
              'Nobody has described it yet.'
            )}{' '}
            {medium.isBlank
              ? `A blank of ours${medium.density ? `, ${medium.density} density` : ''}; it may ` +
                'be written.'
              : 'An original: it is read, and never written.'}{' '}
            {medium.recordedSide !== 'not-said' && `Recorded: ${SIDE_WORDS[medium.recordedSide]}. `}
            <a href={`/labels?codes=${medium.code}`} className="text-oxide underline">
              Print its label
            </a>
          </p>
          {medium.form === 'hard-disk' && <Origin medium={medium} />}
          <Related data={data} />
          <SetPanel data={data} />
        </Section>
        <Section id="papers" title="Photos and papers">
          <Papers data={data} />
        </Section>
        <Section id="sittings" title="Sittings">
          <Sittings data={data} />
        </Section>
        <Section id="surface" title="Surface of the fair copy">
          <Surface data={data} />
        </Section>
        <Section id="contents" title="Contents">
          <OwnNames data={data} />
          {copy && (
            <p className="mb-3 text-[13px]">
              <Link
                href={`/media/${medium.code}/bytes`}
                className="font-[650] text-oxide underline"
              >
                The image byte by byte
              </Link>{' '}
              <span className="text-ink-2">with its fields, its strings, and a search</span>
            </p>
          )}
          {contents.length > 0 ? (
            <div className="grid grid-cols-[minmax(0,1fr)_330px] gap-5">
              <Contents
                quarantined={data.findings.length > 0}
                copyId={copy!.id}
                volumes={contents}
                chosen={file}
                onChoose={(chosen, volume) => {
                  setFile(chosen);
                  setFilesystem(volume.filesystem);
                }}
              />
              <ReadingColumn file={file} filesystem={filesystem} />
            </div>
          ) : (
            <EmptyState>
              {copy?.problems.find(({ kind }) => kind === 'unknown-format')?.message ??
                'There is no fair copy to look into yet.'}
            </EmptyState>
          )}
        </Section>
        <Section id="copies" title="Copies and extracts">
          <Copies data={data} />
        </Section>
        <Section id="writebacks" title="Write back">
          {data.writebacks.length > 0 ? (
            <div className="space-y-3">
              {data.writebacks.map((row) => (
                <WritebackEntry key={row.id} row={row} />
              ))}
            </div>
          ) : (
            <EmptyState>Not yet written back to a disk.</EmptyState>
          )}
        </Section>
        <Section id="history" title="History">
          <EventList lines={data.history} />
        </Section>
      </div>
    </div>
  );
}

/**
 * What the volumes call themselves, beside what the sticker says: taken as the title by one press.
 */
function OwnNames({ data: { medium, contents } }: { data: DocketData }) {
  const names = [
    ...new Set(
      contents.flatMap(({ label, inside }) =>
        label?.trim() && inside === null ? [label.trim()] : [],
      ),
    ),
  ];
  const take = useMutation({
    mutationFn: (title: string) => post(`/api/media/${encodeURIComponent(medium.code)}`, { title }),
  });
  if (names.length === 0) return null;
  return (
    <div className="mb-3 text-[13px]" data-testid="own-names">
      <p>
        {names.length === 1 ? 'The volume calls itself' : 'The volumes call themselves'}{' '}
        {names.slice(0, 6).map((name, i) => (
          <Fragment key={name}>
            {i > 0 && ', '}
            <b>“{name}”</b>
            {name !== medium.title && (
              <button
                type="button"
                onClick={() => take.mutate(name.slice(0, 200))}
                className="ml-1.5 text-oxide underline"
              >
                take it as the title
              </button>
            )}
          </Fragment>
        ))}
        ;{' '}
        {medium.labelText ? (
          <>the sticker says {medium.labelText}</>
        ) : (
          'nothing is noted of a sticker'
        )}
        ; the docket is titled <b>{medium.title}</b>.
      </p>
      <ErrorAlert>{take.error?.message}</ErrorAlert>
    </div>
  );
}

const RELATED = {
  'copy-of': 'A copy of',
  'has-copy': 'There is a copy of it:',
  'not-the-same': 'Settled as not the same as',
} as const;

/** What was settled of it and others. */
function Related({ data: { medium, related } }: { data: DocketData }) {
  if (related.length === 0) return null;
  return (
    <p className="mt-2 text-[13px]" data-testid="related">
      {related.map(({ kind, code }, i) => (
        <Fragment key={code}>
          {i > 0 && ' · '}
          {RELATED[kind]}{' '}
          <Link href={`/media/${code}`} className="font-mono font-[650] hover:underline">
            {code}
          </Link>{' '}
          (
          <Link href={`/holdings/alike/${medium.code}/${code}`} className="text-oxide underline">
            side by side
          </Link>
          )
        </Fragment>
      ))}
    </p>
  );
}

function headline({ medium, copy, contents }: DocketData): string {
  if (!copy)
    return medium.isBlank ? `${medium.code} is a blank` : `${medium.code} has not been read yet`;
  const doubt = (copy.tally?.doubtful ?? 0) + (copy.tally?.lost ?? 0) + (copy.tally?.unread ?? 0);
  const files = totalOf(contents, 'liveFiles');
  const touched = totalOf(contents, 'hurtFiles');
  const unit = copy.blocks ? 'block' : 'sector';
  const first = copy.tally
    ? doubt === 0
      ? `Every ${unit} is sound`
      : `${doubt.toLocaleString('en')} ${doubt === 1 ? `${unit} is` : `${unit}s are`} in doubt`
    : 'Taken in as a flat image';
  return contents.length === 0
    ? `${first}; no volume was found`
    : `${first}; ${files} ` +
        `files${touched > 0 ? `, ${touched} of them hurt` : doubt > 0 ? ', none of them touched' : ''}`;
}

function Sittings({ data: { sittings, copy } }: { data: DocketData }) {
  if (sittings.length === 0)
    return (
      <p className="text-ink-2">
        {copy ? `None here: taken in from ${copy.sourceName}.` : 'None yet.'}
      </p>
    );
  return (
    <table className="w-full border-collapse text-[13px]">
      <thead>
        <tr className="border-b border-line">
          <th>Started</th>
          <th>Station</th>
          <th className="pr-4 text-right">Readings</th>
          <th>Layout</th>
          <th>How it came out</th>
          <th>Capture</th>
        </tr>
      </thead>
      <tbody>
        {sittings.map((sitting) => (
          <tr key={sitting.id} className="h-8 border-b border-line">
            <td className="pr-4" suppressHydrationWarning>
              {when(sitting.startedAt)}
            </td>
            <td className="pr-4">{sitting.stationId}</td>
            <td className="pr-4 text-right">{sitting.readings}</td>
            <td className="pr-4">{sitting.device ? 'blocks' : (sitting.layout ?? 'none')}</td>
            <td className="pr-4">{sitting.now}</td>
            <td>
              {sitting.captureBlob && (
                <a
                  href={`/api/captures/${sitting.id}`}
                  className="font-[650] text-oxide hover:underline"
                >
                  Download
                </a>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
