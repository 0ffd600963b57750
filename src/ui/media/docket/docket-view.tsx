'use client';
/**
 * The docket: one page a medium, read top to bottom in the order of the work, with an index at its
 * side.
 */
import { SIDE_WORDS } from '@/messages/names';
import { tell } from '@/messages/tell';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter, useSearchParams } from 'next/navigation';
import { Dispatch, SetStateAction, useEffect, useState, type ReactNode } from 'react';
import { docketQuery } from '@/ui/data/queries';
import { useKey } from '@/ui/parts/keys';
import { EmptyState, ErrorAlert, EventList, MediumRow } from '@/ui/parts/page';
import { Contents } from '@/ui/copies/contents';
import { Copies } from '@/ui/copies/copies';
import { Key } from '@/ui/parts/button';
import { CorrectDialog } from '../correct/correct-dialog';
import { Origin } from './origin';
import { ownedBy } from '../outbox';
import { Papers } from '../papers';
import { SetPanel } from './set-panel';
import { FolderSwitch } from '@/ui/folders/folder-switch';
import { Surface } from '@/ui/copies/surface';
import { ReadingColumn, type ReadableFile } from '@/ui/copies/reading-column';
import { Held } from '@/ui/rights/held-box';
import { WhereItIs } from '@/ui/receipts/where-it-is';
import { WritebackEntry } from '@/ui/writebacks/writeback-entry';
import { type Part, partsOf, headline } from './docket-parts';
import { Description, OwnNames, Related, Sittings, Whence } from './docket-sections';
import type { DocketData } from '../../data/queries';
import { say } from '@/messages';
import { WithdrawLink, WithdrawnNote } from './use-dialog';
import { docketPage, labelsPage } from '../../data/addresses';

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

const STATE_WORDS = {
  done: say.docket.done,
  doubt: say.docket.inDoubt,
  missing: say.docket.partMissing,
} as const;

/** Where it was asked for by a code that it had once, the address becomes that of today. */
function useOwnAddress(asked: string, code: string | undefined): void {
  const router = useRouter();
  useEffect(() => {
    if (code && code !== asked) router.replace(docketPage(code));
  }, [asked, code, router]);
}

export function DocketView({ code }: { code: string }) {
  const { data } = useQuery(docketQuery(code));
  const [file, setFile] = useState<ReadableFile | null>(null);
  const [filesystem, setFilesystem] = useState('');
  useOwnAddress(code, data?.medium.code);
  if (!data) return <DocketParts code={code} />;
  const { medium, copy, contents } = data;
  return (
    <div className="grid min-h-full grid-cols-[190px_1fr] gap-6">
      <DocketNav medium={medium} data={data} />
      <Held medium={medium} holds={data.holds} head={<h1 className="mb-4">{headline(data)}</h1>}>
        <WithdrawnNote medium={medium} />
        {data.damage.map((sentence) => (
          <ErrorAlert key={sentence}>{sentence}</ErrorAlert>
        ))}
        {data.findings.length > 0 && <QuarantineBox data={data} />}
        <Section id="condition" title={say.docket.condition}>
          <ConditionLine medium={medium} />
          <Whence medium={medium} />
          <WhereItIs data={data} />
          {medium.form === 'hard-disk' && <Origin medium={medium} />}
          <Related data={data} />
          <SetPanel data={data} />
        </Section>
        <Section id="description" title={say.descriptions.description}>
          <Description data={data} />
        </Section>
        <Section id="papers" title={say.docket.photosAndPapers}>
          <Papers owner={ownedBy(medium)} papers={data.papers} set={data.set} />
        </Section>
        <Section id="sittings" title={say.docket.sittings}>
          <Sittings data={data} />
        </Section>
        <Section id="surface" title={say.docket.surfaceOfTheFair}>
          <Surface data={data} />
        </Section>
        <Section id="contents" title={say.docket.contents}>
          <OwnNames data={data} />
          {copy && <BytesLink medium={medium} />}
          {contents.length > 0 ? (
            <ContentsBesideReading
              data={data}
              copy={copy}
              contents={contents}
              file={file}
              setFile={setFile}
              setFilesystem={setFilesystem}
              filesystem={filesystem}
            />
          ) : (
            <EmptyState>
              {tell(
                copy?.problems.find(({ kind }) => kind === 'unknown-format')?.said ??
                  say.docket.thereIsNoFair,
              )}
            </EmptyState>
          )}
        </Section>
        <Section id="copies" title={say.docket.copiesAndExtracts}>
          <Copies data={data} />
          {copy && <FolderSwitch of={{ code: medium.code }} folder={data.folder} />}
        </Section>
        <Section id="writebacks" title={say.docket.writeBack}>
          {data.writebacks.length > 0 ? (
            <Writebacks data={data} />
          ) : (
            <EmptyState>{say.docket.notYetWrittenBack}</EmptyState>
          )}
        </Section>
        <Section id="history" title={say.docket.history}>
          <EventList lines={data.history} />
        </Section>
      </Held>
    </div>
  );
}

function DocketNav({ medium, data }: { medium: DocketData['medium']; data: DocketData }) {
  return (
    <aside className="sticky top-0 self-start">
      <MediumRow {...medium} />
      <nav aria-label={say.docket.partsOfTheDocket} className="mt-3">
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
              aria-label={STATE_WORDS[state]}
            >
              {MARKS[state]}
            </svg>
            <span className="flex-1">{name}</span>
            <span className="text-[12px] text-ink-2">{count}</span>
          </a>
        ))}
      </nav>
    </aside>
  );
}

function QuarantineBox({ data }: { data: DocketData }): ReactNode {
  return (
    <div
      role="alert"
      data-testid="quarantine"
      className="mb-5 border-l-[7px] border-oxide bg-oxide-wash px-4 py-3"
    >
      <Quarantine data={data} />
      <ul className="mt-1 text-[13px]">
        {data.findings.slice(0, 12).map(({ rule, name, note, path, offset }, i) => (
          <li key={i}>
            <b>{name}</b> {say.docket.at({ rule })}{' '}
            <span className="font-mono">
              {say.docket.h({ offset: offset.toString(16).toUpperCase() })}
            </span>
            {path ? (
              <>
                {' '}
                {say.docket.of} <span className="font-mono">{path}</span>
              </>
            ) : (
              say.docket.ofTheImage
            )}
            {note && `: ${note}`}
          </li>
        ))}
      </ul>
    </div>
  );
}

function ConditionLine({ medium }: { medium: DocketData['medium'] }) {
  return (
    <p>
      {medium.condition ? <ConditionText medium={medium} /> : say.docket.nobodyHasDescribedIt}{' '}
      {medium.isBlank
        ? say.docket.aBlankOfOurs({
            densityPart: medium.density ? say.docket.density({ density: medium.density }) : '',
          })
        : say.docket.anOriginalItIs}{' '}
      {medium.recordedSide !== 'not-said' &&
        say.docket.recorded({ sideWord: SIDE_WORDS[medium.recordedSide] })}
      <a href={labelsPage([medium.code])} className="text-oxide underline">
        {say.docket.printItsLabel}
      </a>
      {' · '}
      <CorrectLink medium={medium} />
      <WithdrawLink medium={medium} />
    </p>
  );
}

function CorrectLink({ medium }: { medium: DocketData['medium'] }) {
  // A list of what is lacking leads to the very field.
  const field = useSearchParams().get('correct');
  const [isOpen, setIsOpen] = useState(field !== null);
  const open = () => setIsOpen(true);
  useKey('e', open);
  return (
    <>
      <button type="button" onClick={open} aria-keyshortcuts="e" className="text-oxide underline">
        {say.correct.correctIt}
      </button>{' '}
      <Key hotkey="e" />
      <CorrectDialog medium={medium} open={isOpen} field={field} onClose={() => setIsOpen(false)} />
    </>
  );
}

function BytesLink({ medium }: { medium: DocketData['medium'] }): ReactNode {
  return (
    <p className="mb-3 text-[13px]">
      <Link href={docketPage(medium.code, '/bytes')} className="font-[650] text-oxide underline">
        {say.docket.theImageByteBy}
      </Link>{' '}
      <span className="text-ink-2">{say.docket.withItsFieldsIts}</span>
      {' · '}
      <SoundsLink code={medium.code} />
    </p>
  );
}

function SoundsLink({ code }: { code: string }) {
  const router = useRouter();
  const href = docketPage(code, '/sounds');
  useKey('s', () => router.push(href));
  return (
    <Link href={href} className="font-[650] text-oxide underline" aria-keyshortcuts="s">
      {say.docket.itsSounds}
    </Link>
  );
}

function Writebacks({ data }: { data: DocketData }): ReactNode {
  return (
    <div className="space-y-3">
      {data.writebacks.map((row) => (
        <WritebackEntry key={row.id} row={row} />
      ))}
    </div>
  );
}

function DocketParts({ code }: { code: string }) {
  return <h1>{say.docket.opening({ code })}</h1>;
}

function Quarantine({ data }: { data: DocketData }) {
  return (
    <p className="text-[15px] font-[650]">
      {say.docket.inQuarantineSignaturesWere({ findings: data.findings.length })}
    </p>
  );
}

function ConditionText({ medium }: { medium: DocketData['medium'] }): ReactNode {
  return <span className="inline-block first-letter:uppercase">{medium.condition}.</span>;
}

interface ContentsBesideReadingProps {
  data: DocketData;
  copy: DocketData['copy'];
  contents: DocketData['contents'];
  file: ReadableFile | null;
  setFile: Dispatch<SetStateAction<ReadableFile | null>>;
  setFilesystem: Dispatch<SetStateAction<string>>;
  filesystem: string;
}

function ContentsBesideReading({
  data,
  copy,
  contents,
  file,
  setFile,
  setFilesystem,
  filesystem,
}: ContentsBesideReadingProps): ReactNode {
  return (
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
  );
}
