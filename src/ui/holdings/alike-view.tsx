'use client';
/** What is alike: the same disk twice, and disks that share files, side by side. */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { alikeQuery } from '../data/queries';
import { grouped } from '../parts/grade';
import { EmptyState, PageHead } from '../parts/page';

const code = (each: string) => (
  <Link href={`/media/${each}`} className="font-mono font-[650] hover:underline">
    {each}
  </Link>
);

const SideBySideLink = ({ a, b }: { a: string; b: string }) => (
  <Link
    href={`/holdings/alike/${a}/${b}`}
    className="whitespace-nowrap font-[650] text-oxide hover:underline"
  >
    Side by side
  </Link>
);

export function AlikeView() {
  const { data } = useQuery(alikeQuery);
  if (!data) return <PageHead title="Looking what is alike …" />;
  const { images, nearly, pairs } = data;
  return (
    <>
      <PageHead
        over={
          <Link href="/holdings" className="underline">
            Holdings
          </Link>
        }
        title={
          images.length + nearly.length + pairs.length === 0
            ? 'Nothing kept is alike'
            : [
                images.length > 0 &&
                  `${images.length} ${images.length === 1 ? 'image is' : 'images are'} held more ` +
                    'than once',
                nearly.length > 0 &&
                  `${nearly.length} ${nearly.length === 1 ? 'pair is' : 'pairs are'} the same but ` +
                    'for a few tracks',
                pairs.length > 0 &&
                  `${pairs.length} ` +
                    `${pairs.length === 1 ? 'pair of disks shares' : 'pairs of disks share'} files`,
              ]
                .filter(Boolean)
                .join('; ')
        }
      />
      {images.length > 0 && <SameImages images={images} />}
      {nearly.length > 0 && <NearlyTheSame nearly={nearly} />}
      {pairs.length > 0 && <SharedFiles pairs={pairs} />}
      {images.length + nearly.length + pairs.length === 0 && (
        <EmptyState>
          No two media have the same image, the same tracks or a file in common, that nobody has
          settled. It is looked at anew whenever something is taken in.
        </EmptyState>
      )}
    </>
  );
}

function SameImages({
  images,
}: {
  images: {
    sha256: string;
    bytes: number;
    media: { code: string; title: string; copyOf: string | null }[];
  }[];
}) {
  return (
    <>
      <h2 className="mb-1">The same disk</h2>
      <ul className="mb-5 text-[14px]">
        {images.map(({ sha256, bytes, media }) => (
          <li key={sha256} className="border-b border-line py-1.5">
            {media.map(({ code: each, title, copyOf }, i) => (
              <span key={each}>
                {i > 0 && ', '}
                {code(each)} {title}
                {copyOf && <b> (a copy of {copyOf})</b>}
              </span>
            ))}{' '}
            <span className="text-[12px] text-ink-2">
              · {grouped(bytes)} bytes, <span className="font-mono">{sha256.slice(0, 12)}</span>
            </span>{' '}
            {media.slice(1).map(({ code: each }) => (
              <Link
                key={each}
                href={`/holdings/alike/${media[0]!.code}/${each}`}
                className="ml-2 text-[13px] font-[650] text-oxide hover:underline"
              >
                {media[0]!.code} and {each} side by side
              </Link>
            ))}
          </li>
        ))}
      </ul>
    </>
  );
}

function NearlyTheSame({
  nearly,
}: {
  nearly: { a: string; b: string; aTitle: string; bTitle: string; same: number; of: number }[];
}) {
  return (
    <>
      <h2 className="mb-1">The same disk but for a few tracks</h2>
      <table className="mb-5 w-full border-collapse text-[14px]" data-testid="nearly">
        <thead>
          <tr className="border-b border-line text-[13px]">
            <th>Disk</th>
            <th>Disk</th>
            <th className="pr-4 text-right">Tracks the same</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {nearly.map(({ a, b, aTitle, bTitle, same, of }) => (
            <tr key={`${a}/${b}`} className="border-b border-line align-top [&>td]:py-1.5">
              <td className="pr-4">
                {code(a)} {aTitle}
              </td>
              <td className="pr-4">
                {code(b)} {bTitle}
              </td>
              <td className="whitespace-nowrap pr-4 text-right">
                {same} of {of}
              </td>
              <td className="text-right">
                <SideBySideLink a={a} b={b} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function SharedFiles({
  pairs,
}: {
  pairs: {
    a: string;
    b: string;
    aTitle: string;
    bTitle: string;
    shared: number;
    ofA: number;
    ofB: number;
    examples: string[];
  }[];
}) {
  return (
    <>
      <h2 className="mb-1">The same files on different disks</h2>
      <table className="w-full border-collapse text-[14px]" data-testid="alike">
        <thead>
          <tr className="border-b border-line text-[13px]">
            <th>Disk</th>
            <th>Disk</th>
            <th className="pr-4 text-right">Files shared</th>
            <th>Such as</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {pairs.map(({ a, b, aTitle, bTitle, shared, ofA, ofB, examples }) => (
            <tr key={`${a}/${b}`} className="border-b border-line align-top [&>td]:py-1.5">
              <td className="pr-4">
                {code(a)} {aTitle}
              </td>
              <td className="pr-4">
                {code(b)} {bTitle}
              </td>
              <td className="whitespace-nowrap pr-4 text-right">
                {shared} of {ofA} and {ofB}
              </td>
              <td
                className="max-w-0 truncate font-mono text-[12px] text-ink-2"
                style={{ width: '34%' }}
                title={examples.join(', ')}
              >
                {examples.join(', ')}
              </td>
              <td className="text-right">
                <SideBySideLink a={a} b={b} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
