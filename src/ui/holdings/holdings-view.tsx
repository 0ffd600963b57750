'use client';
/**
 * Holdings: everything kept, searchable down to file names; files that exist already are dropped
 * here.
 */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useDeferredValue, useEffect, useRef, useState, type DragEvent } from 'react';
import { holdingsQuery, type Asked, type Holdings } from '../data/queries';
import { Button } from '../parts/button';
import { Gauge } from '../parts/gauge';
import { GradeSwatch, grouped } from '../parts/grade';
import { useKey } from '../parts/keys';
import { EmptyState, PageHead } from '../parts/page';
import { ExtractRows, TakeOut } from './extracts';
import { Facets } from './facets';
import { UploadRows } from './upload-rows';
import { filesDropped, takeInFiles, takeInFolder, type Intake, type PathedFile } from './take-in';

/** Lines told of what was taken in. */
const MAX_TOLD = 300;
/** Files listed by what they say; the server stops there. */
const MAX_TEXTS = 25;

/** What answers, in a sentence: media, files by their names, files by what they say. */
function headline(data: Holdings | undefined, query: string, narrowed: boolean): string {
  const total = data?.total ?? 0;
  if (!query) return narrowed ? `${total} of the media kept` : `${total} media are kept`;
  const { filesFound = 0, moreFiles = false, texts = [] } = data ?? {};
  const names = `${moreFiles ? 'more than ' : ''}${grouped(filesFound)} ${filesFound === 1 ? 'file' : 'files'}`;
  const said = texts.length === MAX_TEXTS ? `${MAX_TEXTS} or more` : texts.length;
  return (
    `${total} media and ${names} answer to “${query}”` +
    (texts.length > 0
      ? `; the words stand in ${said} ${texts.length === 1 ? 'file' : 'files'}`
      : '')
  );
}

export function HoldingsView() {
  const [asked, setAsked] = useState<Asked>({ q: '' });
  const [intakes, setIntakes] = useState<Intake[]>([]);
  const [folder, setFolder] = useState<{ done: number; of: number; stop: AbortController } | null>(
    null,
  );
  const [over, setOver] = useState(false);
  const search = useRef<HTMLInputElement>(null);
  const picker = useRef<HTMLInputElement>(null);
  const folderPicker = useRef<HTMLInputElement>(null);
  const router = useRouter();
  // What is said of the answer is said of the question that it answers, not of what is being typed.
  const answered = useDeferredValue(asked);
  const { data, isPlaceholderData } = useQuery({
    ...holdingsQuery(answered),
    placeholderData: keepPreviousData,
  });
  useKey('/', () => search.current?.focus());
  // React has no attribute for it.
  useEffect(() => folderPicker.current?.setAttribute('webkitdirectory', ''), []);

  const tell = (intake: Intake) =>
    setIntakes((was) =>
      [intake, ...was.filter(({ name }) => name !== intake.name)].slice(0, MAX_TOLD),
    );
  const takeIn = async (files: readonly File[]) => {
    const codes = await takeInFiles(files, tell);
    if (files.length === 1 && codes.length === 1) router.push(`/media/${codes[0]}`);
  };
  const takeFolder = async (files: readonly PathedFile[]) => {
    const stop = new AbortController();
    setFolder({ done: 0, of: files.length, stop });
    await takeInFolder(files, tell, (done, of) => setFolder({ done, of, stop }), stop.signal)
      .catch((error: unknown) =>
        tell({
          name: 'The folder',
          outcome: 'refused',
          text:
            "It can't be read any further " +
            `(${error instanceof Error ? error.message : String(error)}). What was taken in ` +
            'is kept.',
        }),
      )
      .finally(() => setFolder(null));
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    const folders = [...event.dataTransfer.items].some(
      (item) => item.webkitGetAsEntry()?.isDirectory,
    );
    if (folders)
      void filesDropped(event.dataTransfer.items).then(takeFolder, (error: unknown) =>
        tell({
          name: 'The folder',
          outcome: 'refused',
          text: `It can't be read (${String(error)}). Nothing was taken in.`,
        }),
      );
    else void takeIn([...event.dataTransfer.files]);
  };
  const query = answered.q;
  const copies = data?.copies ?? [];
  const total = data?.total ?? 0;
  const filesFound = data?.filesFound ?? 0;
  const narrowed = Object.keys(answered).some((key) => key !== 'q' && key !== 'more');
  const found = data?.found ?? [];
  const texts = data?.texts ?? [];
  return (
    <div
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      className={`min-h-full ${over ? 'outline-2 -outline-offset-4 outline-dashed outline-oxide' : ''}`}
    >
      <PageHead
        over="Drop images, captures or folders anywhere here to take them in"
        title={
          isPlaceholderData
            ? `Looking${query ? ` for “${query}”` : ''} …`
            : headline(data, query, narrowed)
        }
      >
        <a
          href="/api/holdings/index"
          className="self-center text-[13px] font-[650] text-oxide underline"
        >
          Index as CSV
        </a>
        <a
          href="/api/holdings/index?as=json"
          className="self-center text-[13px] font-[650] text-oxide underline"
        >
          as JSON
        </a>
        <Link
          href="/signatures"
          className="self-center text-[13px] font-[650] text-oxide underline"
        >
          Signatures
        </Link>
        <Link
          href="/holdings/alike"
          className="self-center text-[13px] font-[650] text-oxide underline"
        >
          What is alike
        </Link>
        <TakeOut copies={data?.copyIds ?? []} />
        <Button hotkey="f" disabled={folder !== null} onClick={() => folderPicker.current?.click()}>
          Take in a folder
        </Button>
        <Button hotkey="t" onClick={() => picker.current?.click()}>
          Take in a file
        </Button>
      </PageHead>
      <input
        ref={folderPicker}
        type="file"
        multiple
        hidden
        data-testid="intake-folder"
        onChange={(event) => {
          void takeFolder(
            [...(event.target.files ?? [])].map((file) => ({
              path: file.webkitRelativePath || file.name,
              file,
            })),
          );
          event.target.value = '';
        }}
      />
      <input
        ref={picker}
        type="file"
        multiple
        hidden
        data-testid="intake"
        onChange={(event) => {
          void takeIn([...(event.target.files ?? [])]);
          event.target.value = '';
        }}
      />
      <label className="mb-4 block">
        <span className="sr-only">Search labels, lenders, file names and digests</span>
        <input
          ref={search}
          value={asked.q}
          onChange={(event) => setAsked({ ...asked, more: 0, q: event.target.value })}
          placeholder="Labels, lenders, file names, words inside files, digests …   /"
          type="search"
          className="w-full border border-line bg-sheet px-3 py-2 text-[16px]"
        />
      </label>
      <UploadRows />
      <ExtractRows />
      {folder && (
        <p className="mb-2 flex items-center gap-3 text-[13px]" aria-live="polite">
          <Gauge done={folder.done} of={folder.of} label="Images taken in" className="w-52" />
          {folder.done} of {folder.of} taken in{' '}
          <button
            type="button"
            onClick={() => folder.stop.abort()}
            className="font-[650] text-oxide underline"
          >
            Stop here
          </button>
        </p>
      )}
      {intakes.length > 0 && (
        <ul
          className="mb-4 max-h-56 space-y-1 overflow-auto text-[13px]"
          aria-live="polite"
          data-testid="intakes"
        >
          {intakes.map(({ name, outcome, text }) => (
            <li
              key={name}
              className={`border-l-4 px-3 py-1.5 ${outcome === 'refused' ? 'border-oxide bg-oxide-wash' : 'border-verdigris bg-verdigris-wash'}`}
            >
              <b>{name}</b> {outcome}: {text}
            </li>
          ))}
        </ul>
      )}
      <div className={data ? 'grid grid-cols-[178px_minmax(0,1fr)] gap-5' : ''}>
        {data && <Facets facets={data.facets} asked={asked} onAsk={setAsked} />}
        <div className="min-w-0">
          {copies.length === 0 && found.length === 0 && texts.length === 0 && (
            <EmptyState>
              {query
                ? 'Nothing kept answers to that. Every word must occur in a label, a lender or a ' +
                  'digest, in the name of a file, or inside one.'
                : 'Nothing is kept yet. Read a medium at the bench, or drop an image here.'}
            </EmptyState>
          )}
          {copies.length > 0 && (
            <table className="w-full border-collapse">
              <thead>
                <tr className="border-b border-line text-[13px] [&>th]:pb-1.5">
                  <th>Code</th>
                  <th>What it is</th>
                  <th>Lender</th>
                  <th>Volume</th>
                  <th className="pr-4 text-right">Files</th>
                  <th>In doubt</th>
                  <th>SHA-256</th>
                  <th>Also held as</th>
                </tr>
              </thead>
              <tbody>
                {copies.map((copy) => {
                  const doubt =
                    (copy.tally?.doubtful ?? 0) +
                    (copy.tally?.lost ?? 0) +
                    (copy.tally?.unread ?? 0);
                  return (
                    <tr key={copy.id} className="h-9 border-b border-line">
                      <td className="pr-4">
                        <Link
                          href={`/media/${copy.code}`}
                          className="font-mono font-[650] tracking-wide hover:underline"
                        >
                          {copy.code}
                        </Link>
                      </td>
                      <td className="pr-4">
                        {copy.title}
                        {copy.copyOf && (
                          <span className="ml-2 text-[12px] text-ink-2">
                            copy of{' '}
                            <Link
                              href={`/media/${copy.copyOf}`}
                              className="font-mono hover:underline"
                            >
                              {copy.copyOf}
                            </Link>
                          </span>
                        )}
                        {copy.findings > 0 && (
                          <b className="ml-2 border border-oxide px-1 text-[12px] text-oxide">
                            in quarantine
                          </b>
                        )}
                      </td>
                      <td className="pr-4 text-ink-2">{copy.lender || 'not known'}</td>
                      <td className="pr-4">
                        {copy.volumes.length > 0
                          ? copy.volumes
                              .map(
                                ({ filesystem, label }) =>
                                  `${filesystem.toUpperCase()}${label ? ` “${label}”` : ''}`,
                              )
                              .join(', ')
                          : 'none found'}
                      </td>
                      <td className="pr-4 text-right">{copy.fileCount}</td>
                      <td className="pr-4">
                        {doubt > 0 ? (
                          <span className="flex items-center gap-1.5">
                            <GradeSwatch grade="doubtful" />
                            {doubt}
                          </span>
                        ) : (
                          '–'
                        )}
                      </td>
                      <td className="pr-4 font-mono text-[12px] text-ink-2" title={copy.sha256}>
                        {copy.sha256.slice(0, 12)}
                      </td>
                      <td className="font-mono text-[12px]">
                        {copy.sameAs.map((code) => (
                          <Link
                            key={code}
                            href={`/media/${code}`}
                            className="mr-2 font-[650] text-oxide hover:underline"
                          >
                            {code}
                          </Link>
                        ))}
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          )}
          {found.length > 0 && (
            <>
              <h2 className="mb-2 mt-5">
                Files
                {filesFound > found.length && (
                  <span className="text-[13px] font-normal text-ink-2">
                    {' '}
                    the first {found.length} of {grouped(filesFound)}
                  </span>
                )}
              </h2>
              <table className="w-full border-collapse text-[13px]">
                <tbody>
                  {found.map((file) => (
                    <tr key={file.id} className="h-8 border-b border-line">
                      <td className="w-28">
                        <Link
                          href={`/media/${file.code}`}
                          className="font-mono font-[650] hover:underline"
                        >
                          {file.code}
                        </Link>
                      </td>
                      <td className="font-mono">
                        {file.inside && <span className="text-ink-2">{file.inside} / </span>}
                        {file.path}
                        {file.deleted && <span className="ml-2 font-sans text-ink-2">deleted</span>}
                      </td>
                      <td className="text-right">{grouped(file.bytes)}</td>
                      <td className="pl-4 text-ink-2">
                        {file.modified?.replace('T', ' ') ?? 'no date'}
                      </td>
                      <td className="text-right">
                        {file.quarantined ? (
                          <Link
                            href={`/media/${file.code}#contents`}
                            className="font-[650] text-oxide hover:underline"
                          >
                            In quarantine
                          </Link>
                        ) : (
                          <a
                            href={`/api/files/${file.id}`}
                            className="font-[650] text-oxide hover:underline"
                          >
                            Extract
                          </a>
                        )}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </>
          )}
          {texts.length > 0 && (
            <>
              <h2 className="mb-2 mt-5">Inside files</h2>
              <table className="w-full border-collapse text-[13px]" data-testid="texts">
                <tbody>
                  {texts.map((file) => (
                    <tr key={file.id} className="h-8 border-b border-line">
                      <td className="w-28">
                        <Link
                          href={`/media/${file.code}`}
                          className="font-mono font-[650] hover:underline"
                        >
                          {file.code}
                        </Link>
                      </td>
                      <td className="whitespace-nowrap pr-4 font-mono">{file.path}</td>
                      <td className="w-full text-ink-2">… {file.excerpt} …</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </>
          )}
          {(total > copies.length || filesFound > found.length) && (
            <p className="mt-3 text-[13px] text-ink-2">
              {grouped(copies.length)} of {grouped(total)} media
              {filesFound > 0 &&
                ` and ${grouped(found.length)} of ${grouped(filesFound)} files`}{' '}
              are shown.{' '}
              <button
                type="button"
                onClick={() => setAsked({ ...asked, more: (asked.more ?? 0) + 1 })}
                className="text-oxide underline"
              >
                Show more
              </button>
              , or narrow them by a word or at the side.
            </p>
          )}
        </div>
      </div>
    </div>
  );
}
