'use client';
/**
 * Holdings: everything kept, searchable down to file names; files that exist already are dropped
 * here.
 */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import {
  Dispatch,
  RefObject,
  SetStateAction,
  useDeferredValue,
  useRef,
  useState,
  type DragEvent,
} from 'react';
import { holdingsQuery, type Asked, type Holdings } from '../data/queries';
import { grouped } from '@/core/text/grouped';
import { useKey } from '../parts/keys';
import { EmptyState, PageHead } from '../parts/page';
import { MakeParcel } from '../parcels/make-parcel';
import { ExtractRows, TakeOut } from './extracts';
import { Facets } from './facets';
import { FoundFiles, FoundTexts } from './found-files';
import { HoldingsTable } from './holdings-table';
import { IntakeList } from './intake/intake-list';
import { Pickers } from './intake/pickers';
import { UploadRows } from './intake/upload-rows';
import { useTakingIn } from './intake/use-taking-in';
import { WhoseDialog } from './intake/whose-dialog';
import { say } from '@/messages';

/** Files listed by what they say; the server stops there. */
const MAX_TEXTS = 25;

/** What answers, in a sentence: media, files by their names, files by what they say. */
function headline(data: Holdings | undefined, query: string, narrowed: boolean): string {
  const total = grouped(data?.total ?? 0);
  if (!query)
    return narrowed ? say.holdings.ofTheMediaKept({ total }) : say.holdings.mediaAreKept({ total });
  const { filesFound = 0, moreFiles = false, texts = [] } = data ?? {};
  const names = say.holdings.files3({
    moreFilesPart: moreFiles ? say.holdings.moreThan : '',
    filesFound: grouped(filesFound),
    filesFound2: filesFound,
  });
  const said =
    texts.length === MAX_TEXTS ? say.holdings.orMore({ maxTexts: MAX_TEXTS }) : texts.length;
  const inTexts = say.holdings.theWordsStandIn({ said, texts: texts.length });
  return say.holdings.mediaAndAnswerTo({
    total,
    names,
    query,
    inTexts: texts.length > 0 ? inTexts : '',
  });
}

const LINKS = [
  ['/api/holdings/index', say.holdings.indexAsCsv],
  ['/api/holdings/index?as=json', say.holdings.asJson],
] as const;
const PLACES = [
  ['/signatures', say.holdings.signatures],
  ['/holdings/alike', say.holdings.whatIsAlike],
  ['/holdings/sounds', say.sounds.sounds],
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

const NOTHING_ANSWERS = say.holdings.nothingKeptAnswersTo;
const NOTHING_KEPT = say.holdings.nothingIsKeptYet;

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
          {say.holdings.ofMedia({ copies: grouped(copies.length), total: grouped(total) })}
          {filesFound > 0 &&
            say.holdings.andOfFiles({
              found: grouped(found.length),
              filesFound: grouped(filesFound),
            })}{' '}
          {say.holdings.areShown}{' '}
          <button type="button" onClick={onMore} className="text-oxide underline">
            {say.holdings.showMore}
          </button>
          {say.holdings.orNarrowThemBy}
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
        over={say.holdings.dropImagesCapturesOr}
        title={
          isPlaceholderData
            ? say.holdings.looking({ queryPart: query ? say.holdings.forWord({ query }) : '' })
            : headline(data, query, narrowed)
        }
      >
        <HeadLinks />
        <TakeOut copies={data?.copyIds ?? []} stays={data?.stays ?? 0} />
        <Pickers isBusy={taking.folder !== null} taking={taking} />
      </PageHead>
      <WhoseDialog asked={taking.asked} facets={data?.facets} />
      <SearchField search={search} asked={asked} setAsked={setAsked} />
      <UploadRows />
      <ExtractRows />
      <IntakeList intakes={taking.intakes} folder={taking.folder} />
      <div className={data ? 'grid grid-cols-[178px_minmax(0,1fr)] gap-5' : ''}>
        {data && <Facets facets={data.facets} asked={asked} onAsk={setAsked} />}
        <div>
          {data && <ParcelLine {...data} />}
          <Answers
            data={data}
            query={query}
            onMore={() => setAsked({ ...asked, more: (asked.more ?? 0) + 1 })}
          />
        </div>
      </div>
    </div>
  );
}

/** What was found, for others. */
function ParcelLine({ copyIds, stays }: Pick<Holdings, 'copyIds' | 'stays'>) {
  return (
    <p className="mb-2 flex items-center justify-end gap-4 text-[13px]">
      <Link href="/parcels" className={LINK}>
        {say.parcels.parcels}
      </Link>
      <MakeParcel of={{ copies: copyIds }} media={copyIds.length} stays={stays} />
    </p>
  );
}

function SearchField({
  search,
  asked,
  setAsked,
}: {
  search: RefObject<HTMLInputElement | null>;
  asked: Asked;
  setAsked: Dispatch<SetStateAction<Asked>>;
}) {
  return (
    <label className="mb-4 block">
      <span className="sr-only">{say.holdings.searchLabelsLendersFile}</span>
      <input
        ref={search}
        value={asked.q}
        onChange={(event) => setAsked({ ...asked, more: 0, q: event.target.value })}
        placeholder={say.holdings.labelsLendersFileNames}
        type="search"
        className="w-full border border-line bg-sheet px-3 py-2 text-[16px]"
      />
    </label>
  );
}
