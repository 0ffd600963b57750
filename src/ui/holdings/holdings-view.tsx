'use client';
/** Holdings: everything kept, searchable down to file names; files that exist already are dropped here. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useDeferredValue, useRef, useState, type DragEvent } from 'react';
import { ApiError, upload } from '../data/api';
import { holdingsQuery } from '../data/queries';
import { Button } from '../parts/button';
import { GradeSwatch, grouped } from '../parts/grade';
import { useKey } from '../parts/keys';
import { Nothing, PageHead } from '../parts/page';

interface Intake {
  name: string;
  outcome: 'under way' | 'taken in' | 'refused';
  text: string;
}

export function HoldingsView() {
  const [query, setQuery] = useState('');
  const [intakes, setIntakes] = useState<Intake[]>([]);
  const [over, setOver] = useState(false);
  const search = useRef<HTMLInputElement>(null);
  const picker = useRef<HTMLInputElement>(null);
  const router = useRouter();
  const asked = useDeferredValue(query);
  const { data } = useQuery({ ...holdingsQuery(asked), placeholderData: keepPreviousData });
  useKey('/', () => search.current?.focus());

  const takeIn = async (files: readonly File[]) => {
    for (const file of files) {
      const say = (outcome: Intake['outcome'], text: string) => setIntakes((was) => [{ name: file.name, outcome, text }, ...was.filter(({ name }) => name !== file.name)]);
      say('under way', `${grouped(file.size)} bytes …`);
      try {
        const { code, kind } = await upload<{ code: string; kind: string }>(`/api/intake?name=${encodeURIComponent(file.name)}`, file);
        say('taken in', `as ${code}, a ${kind === 'capture' ? 'flux capture' : 'flat image'}`);
        if (files.length === 1) router.push(`/media/${code}`);
      } catch (error) {
        say('refused', error instanceof ApiError ? error.message : String(error));
      }
    }
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    void takeIn([...event.dataTransfer.files]);
  };
  const copies = data?.copies ?? [];
  const found = data?.found ?? [];
  const texts = data?.texts ?? [];
  const quarantined = new Set(copies.filter(({ findings }) => findings > 0).map(({ id }) => id));
  return (
    <div onDragOver={(event) => { event.preventDefault(); setOver(true); }} onDragLeave={() => setOver(false)} onDrop={drop} className={`min-h-full ${over ? 'outline-2 -outline-offset-4 outline-dashed outline-oxide' : ''}`}>
      <PageHead over="Drop flat images and flux captures anywhere on this page to take them in" title={query ? `${copies.length} media and ${found.length} files answer to “${query}”` : `${copies.length} media are kept`}>
        <a href="/api/index" className="self-center text-[13px] font-[650] text-oxide underline">Index as CSV</a>
        <a href="/api/index?as=json" className="self-center text-[13px] font-[650] text-oxide underline">as JSON</a>
        <Link href="/signatures" className="self-center text-[13px] font-[650] text-oxide underline">Signatures</Link>
        <Link href="/holdings/alike" className="self-center text-[13px] font-[650] text-oxide underline">What is alike</Link>
        <Button hotkey="t" onClick={() => picker.current?.click()}>Take in a file</Button>
      </PageHead>
      <input ref={picker} type="file" multiple hidden data-testid="intake" onChange={(event) => { void takeIn([...event.target.files ?? []]); event.target.value = ''; }} />
      <label className="mb-4 block"><span className="sr-only">Search labels, lenders, file names and digests</span>
        <input ref={search} value={query} onChange={(event) => setQuery(event.target.value)} placeholder="Labels, lenders, file names, words inside files, digests …   /" type="search" className="w-full border border-line bg-sheet px-3 py-2 text-[16px]" />
      </label>
      {intakes.length > 0 && (
        <ul className="mb-4 space-y-1 text-[13px]" aria-live="polite">
          {intakes.map(({ name, outcome, text }) => (
            <li key={name} className={`border-l-4 px-3 py-1.5 ${outcome === 'refused' ? 'border-oxide bg-oxide-wash' : 'border-verdigris bg-verdigris-wash'}`}><b>{name}</b> {outcome}: {text}</li>
          ))}
        </ul>
      )}
      {copies.length === 0 && found.length === 0 && texts.length === 0 && <Nothing>{query ? 'Nothing kept answers to that. Every word must occur in a label, a lender, a file name or a digest.' : 'Nothing is kept yet. Read a medium at the bench, or drop an image here.'}</Nothing>}
      {copies.length > 0 && (
        <table className="w-full border-collapse">
          <thead><tr className="border-b border-line text-[13px] [&>th]:pb-1.5"><th>Code</th><th>What it is</th><th>Lender</th><th>Volume</th><th className="pr-4 text-right">Files</th><th>In doubt</th><th>SHA-256</th><th>Also held as</th></tr></thead>
          <tbody>
            {copies.map((copy) => {
              const doubt = (copy.tally?.doubtful ?? 0) + (copy.tally?.lost ?? 0) + (copy.tally?.unread ?? 0);
              return (
                <tr key={copy.id} className="h-9 border-b border-line">
                  <td className="pr-4"><Link href={`/media/${copy.code}`} className="font-mono font-[650] tracking-wide hover:underline">{copy.code}</Link></td>
                  <td className="pr-4">{copy.title}{copy.findings > 0 && <b className="ml-2 border border-oxide px-1 text-[12px] text-oxide">in quarantine</b>}</td>
                  <td className="pr-4 text-ink-2">{copy.lender || 'not known'}</td>
                  <td className="pr-4">{copy.volumes.length > 0 ? copy.volumes.map(({ filesystem, label }) => `${filesystem.toUpperCase()}${label ? ` “${label}”` : ''}`).join(', ') : 'none found'}</td>
                  <td className="pr-4 text-right">{copy.fileCount}</td>
                  <td className="pr-4">{doubt > 0 ? <span className="flex items-center gap-1.5"><GradeSwatch grade="doubtful" />{doubt}</span> : '–'}</td>
                  <td className="pr-4 font-mono text-[12px] text-ink-2" title={copy.sha256}>{copy.sha256.slice(0, 12)}</td>
                  <td className="font-mono text-[12px]">{copy.sameAs.map((code) => <Link key={code} href={`/media/${code}`} className="mr-2 font-[650] text-oxide hover:underline">{code}</Link>)}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {found.length > 0 && (
        <>
          <h2 className="mb-2 mt-5">Files</h2>
          <table className="w-full border-collapse text-[13px]">
            <tbody>
              {found.map((file) => (
                <tr key={file.id} className="h-8 border-b border-line">
                  <td className="w-28"><Link href={`/media/${file.code}`} className="font-mono font-[650] hover:underline">{file.code}</Link></td>
                  <td className="font-mono">{file.path}{file.deleted && <span className="ml-2 font-sans text-ink-2">deleted</span>}</td>
                  <td className="text-right">{grouped(file.bytes)}</td>
                  <td className="pl-4 text-ink-2">{file.modified?.replace('T', ' ') ?? 'no date'}</td>
                  <td className="text-right">{quarantined.has(file.copyId) ? <Link href={`/media/${file.code}#contents`} className="font-[650] text-oxide hover:underline">In quarantine</Link> : <a href={`/api/files/${file.id}`} className="font-[650] text-oxide hover:underline">Extract</a>}</td>
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
                  <td className="w-28"><Link href={`/media/${file.code}`} className="font-mono font-[650] hover:underline">{file.code}</Link></td>
                  <td className="whitespace-nowrap pr-4 font-mono">{file.path}</td>
                  <td className="w-full text-ink-2">… {file.excerpt} …</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </div>
  );
}
