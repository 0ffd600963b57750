'use client';
/**
 * Holdings: everything kept, searchable down to file names; files that exist already are dropped
 * here.
 */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useDeferredValue, useEffect, useRef, useState, type DragEvent } from 'react';
import { holdingsQuery, type Asked, type Holdings } from '../data/queries';
import { Button } from '../parts/button';
import { grouped } from '../parts/grade';
import { useKey } from '../parts/keys';
import { EmptyState, PageHead } from '../parts/page';
import { ExtractRows, TakeOut } from './extracts';
import { Facets } from './facets';
import { FoundFiles, FoundTexts } from './found-files';
import { HoldingsTable } from './holdings-table';
import { IntakeList } from './intake-list';
import { UploadRows } from './upload-rows';
import { useTakingIn } from './use-taking-in';

/** Files listed by what they say; the server stops there. */
const MAX_TEXTS = 25;

/** What answers, in a sentence: media, files by their names, files by what they say. */
function headline(data: Holdings | undefined, query: string, narrowed: boolean): string {
  const total = grouped(data?.total ?? 0);
  if (!query) return narrowed ? `${total} of the media kept` : `${total} media are kept`;
  const { filesFound = 0, moreFiles = false, texts = [] } = data ?? {};
  const names =
    `${moreFiles ? 'more than ' : ''}${grouped(filesFound)} ` +
    `${filesFound === 1 ? 'file' : 'files'}`;
  const said = texts.length === MAX_TEXTS ? `${MAX_TEXTS} or more` : texts.length;
  const inTexts = `; the words stand in ${said} ${texts.length === 1 ? 'file' : 'files'}`;
  return `${total} media and ${names} answer to “${query}”${texts.length > 0 ? inTexts : ''}`;
}

const LINKS = [
  ['/api/holdings/index', 'Index as CSV'],
  ['/api/holdings/index?as=json', 'as JSON'],
] as const;
const PLACES = [
  ['/signatures', 'Signatures'],
  ['/holdings/alike', 'What is alike'],
] as const;
const LINK = 'self-center text-[13px] font-[650] text-oxide underline';

function HeadLinks() {
  return (
    <>
      {LINKS.map(([href, name]) => (
        <a key={href} href={href} className={LINK}>
          {name}
        </a>
      ))}
      {PLACES.map(([href, name]) => (
        <Link key={href} href={href} className={LINK}>
          {name}
        </Link>
      ))}
    </>
  );
}

interface PickersProps {
  isBusy: boolean;
  taking: Pick<ReturnType<typeof useTakingIn>, 'takeIn' | 'takeFolder'>;
}

/** Files and folders chosen by hand; the inputs themselves are never seen. */
function Pickers({ isBusy, taking: { takeIn, takeFolder } }: PickersProps) {
  const picker = useRef<HTMLInputElement>(null);
  const folderPicker = useRef<HTMLInputElement>(null);
  // React has no attribute for it.
  useEffect(() => folderPicker.current?.setAttribute('webkitdirectory', ''), []);
  return (
    <>
      <Button hotkey="f" disabled={isBusy} onClick={() => folderPicker.current?.click()}>
        Take in a folder
      </Button>
      <Button hotkey="t" onClick={() => picker.current?.click()}>
        Take in a file
      </Button>
      <input
        ref={folderPicker}
        type="file"
        multiple
        hidden
        data-testid="intake-folder"
        onChange={({ target }) => {
          const chosen = [...(target.files ?? [])];
          void takeFolder(
            chosen.map((file) => ({ path: file.webkitRelativePath || file.name, file })),
          );
          target.value = '';
        }}
      />
      <input
        ref={picker}
        type="file"
        multiple
        hidden
        data-testid="intake"
        onChange={({ target }) => {
          void takeIn([...(target.files ?? [])]);
          target.value = '';
        }}
      />
    </>
  );
}

const NOTHING_ANSWERS =
  'Nothing kept answers to that. Every word must occur in a label, a lender or a digest, in the ' +
  'name of a file, or inside one.';
const NOTHING_KEPT = 'Nothing is kept yet. Read a medium at the bench, or drop an image here.';

interface AnswersProps {
  data: Holdings | undefined;
  query: string;
  onMore: () => void;
}

function Answers({ data, query, onMore }: AnswersProps) {
  const { copies = [], found = [], texts = [], total = 0, filesFound = 0 } = data ?? {};
  const isEmpty = copies.length + found.length + texts.length === 0;
  return (
    <div className="min-w-0">
      {isEmpty && <EmptyState>{query ? NOTHING_ANSWERS : NOTHING_KEPT}</EmptyState>}
      {copies.length > 0 && <HoldingsTable copies={copies} />}
      {found.length > 0 && <FoundFiles found={found} filesFound={filesFound} />}
      {texts.length > 0 && <FoundTexts texts={texts} />}
      {(total > copies.length || filesFound > found.length) && (
        <p className="mt-3 text-[13px] text-ink-2">
          {grouped(copies.length)} of {grouped(total)} media
          {filesFound > 0 && ` and ${grouped(found.length)} of ${grouped(filesFound)} files`} are
          shown.{' '}
          <button type="button" onClick={onMore} className="text-oxide underline">
            Show more
          </button>
          , or narrow them by a word or at the side.
        </p>
      )}
    </div>
  );
}

export function HoldingsView() {
  const [asked, setAsked] = useState<Asked>({ q: '' });
  const [isOver, setIsOver] = useState(false);
  const taking = useTakingIn();
  const search = useRef<HTMLInputElement>(null);
  // What is said of the answer is said of the question that it answers, not of what is being typed.
  const answered = useDeferredValue(asked);
  const { data, isPlaceholderData } = useQuery({
    ...holdingsQuery(answered),
    placeholderData: keepPreviousData,
  });
  useKey('/', () => search.current?.focus());
  const query = answered.q;
  const narrowed = Object.keys(answered).some((key) => key !== 'q' && key !== 'more');
  const drag = (event: DragEvent, over: boolean) => {
    event.preventDefault();
    setIsOver(over);
  };
  const outline = isOver ? 'outline-2 -outline-offset-4 outline-dashed outline-oxide' : '';
  return (
    <div
      onDragOver={(event) => drag(event, true)}
      onDragLeave={() => setIsOver(false)}
      onDrop={(event) => {
        drag(event, false);
        taking.drop(event.dataTransfer);
      }}
      className={`min-h-full ${outline}`}
    >
      <PageHead
        over="Drop images, captures or folders anywhere here to take them in"
        title={
          isPlaceholderData
            ? `Looking${query ? ` for “${query}”` : ''} …`
            : headline(data, query, narrowed)
        }
      >
        <HeadLinks />
        <TakeOut copies={data?.copyIds ?? []} />
        <Pickers isBusy={taking.folder !== null} taking={taking} />
      </PageHead>
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
      <IntakeList intakes={taking.intakes} folder={taking.folder} />
      <div className={data ? 'grid grid-cols-[178px_minmax(0,1fr)] gap-5' : ''}>
        {data && <Facets facets={data.facets} asked={asked} onAsk={setAsked} />}
        <Answers
          data={data}
          query={query}
          onMore={() => setAsked({ ...asked, more: (asked.more ?? 0) + 1 })}
        />
      </div>
    </div>
  );
}
