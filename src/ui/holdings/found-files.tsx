'use client';
/** Files that answer a search, by their names and by what they say. */
import Link from 'next/link';
import type { Holdings } from '../data/queries';
import { grouped } from '@/core/text/grouped';
import { say } from '@/messages';
import { docketPage } from '../data/addresses';

type Found = Holdings['found'][number];

function MediumLink({ code }: { code: string }) {
  return (
    <td className="w-28 whitespace-nowrap">
      <Link href={docketPage(code)} className="font-mono font-[650] hover:underline">
        {code}
      </Link>
    </td>
  );
}

function FoundRow({ file }: { file: Found }) {
  const [href, word] = file.quarantined
    ? [docketPage(file.code, '#contents'), say.holdings.inQuarantine]
    : [`/api/files/${file.id}`, say.holdings.extract];
  return (
    <tr className="h-8 border-b border-line">
      <MediumLink code={file.code} />
      <td className="font-mono">
        {file.inside && <span className="text-ink-2">{file.inside} / </span>}
        {file.path}
        {file.deleted && <span className="ml-2 font-sans text-ink-2">{say.holdings.deleted}</span>}
      </td>
      <td className="text-right">{grouped(file.bytes)}</td>
      <td className="pl-4 text-ink-2">{file.modified?.replace('T', ' ') ?? say.holdings.noDate}</td>
      <td className="text-right">
        <a href={href} className="font-[650] text-oxide hover:underline">
          {word}
        </a>
      </td>
    </tr>
  );
}

export function FoundFiles({ found, filesFound }: Pick<Holdings, 'found' | 'filesFound'>) {
  return (
    <>
      <h2 className="mb-2 mt-5">
        {say.holdings.files2}
        {filesFound > found.length && (
          <span className="text-[13px] font-normal text-ink-2">
            {' '}
            {say.holdings.theFirstOf({ found: found.length, filesFound: grouped(filesFound) })}
          </span>
        )}
      </h2>
      <table className="w-full border-collapse text-[13px]">
        <tbody>
          {found.map((file) => (
            <FoundRow key={file.id} file={file} />
          ))}
        </tbody>
      </table>
    </>
  );
}

export function FoundTexts({ texts }: Pick<Holdings, 'texts'>) {
  return (
    <>
      <h2 className="mb-2 mt-5">{say.holdings.insideFiles}</h2>
      <table className="w-full border-collapse text-[13px]" data-testid="texts">
        <tbody>
          {texts.map((file) => (
            <tr key={file.id} className="h-8 border-b border-line">
              <MediumLink code={file.code} />
              <td className="whitespace-nowrap pr-4 font-mono">{file.path}</td>
              <td className="w-full text-ink-2">… {file.excerpt} …</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
