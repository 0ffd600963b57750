'use client';
/** What is alike: the same disk twice, and disks that share files, side by side. */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { alikeQuery } from '../data/queries';
import { grouped } from '@/core/text/grouped';
import { EmptyState, PageHead } from '../parts/page';
import { say } from '@/messages';
import { docketPage, sideBySidePage } from '../data/addresses';

const code = (each: string) => (
  <Link href={docketPage(each)} className="font-mono font-[650] hover:underline">
    {each}
  </Link>
);

const SideBySideLink = ({ a, b }: { a: string; b: string }) => (
  <Link
    href={sideBySidePage(a, b)}
    className="whitespace-nowrap font-[650] text-oxide hover:underline"
  >
    {say.holdings.sideBySide}
  </Link>
);

const DiskHeads = () => (
  <>
    <th>{say.holdings.disk}</th>
    <th>{say.holdings.disk}</th>
  </>
);

const DiskCell = ({ id, title }: { id: string; title: string }) => (
  <td className="pr-4">
    {code(id)} {title}
  </td>
);

function titleOf(images: number, nearly: number, pairs: number): string {
  if (images + nearly + pairs === 0) return say.holdings.nothingKeptIsAlike;
  return [
    images > 0 && say.holdings.imagesAreHeldMore({ images }),
    nearly > 0 && say.holdings.pairsAreTheSame({ nearly }),
    pairs > 0 && say.holdings.pairsOfDisksShare({ pairs }),
  ]
    .filter(Boolean)
    .join('; ');
}

export function AlikeView() {
  const { data } = useQuery(alikeQuery);
  if (!data) return <PageHead title={say.holdings.lookingWhatIsAlike} />;
  const { images, nearly, pairs } = data;
  return (
    <>
      <PageHead
        over={
          <Link href="/holdings" className="underline">
            {say.holdings.holdings}
          </Link>
        }
        title={titleOf(images.length, nearly.length, pairs.length)}
      />
      {images.length > 0 && <SameImages images={images} />}
      {nearly.length > 0 && <NearlyTheSame nearly={nearly} />}
      {pairs.length > 0 && <SharedFiles pairs={pairs} />}
      {images.length + nearly.length + pairs.length === 0 && (
        <EmptyState>{say.holdings.noTwoMediaHave}</EmptyState>
      )}
    </>
  );
}

interface SameImagesProps {
  images: {
    sha256: string;
    bytes: number;
    media: { code: string; title: string; copyOf: string | null }[];
  }[];
}

function SameImages({ images }: SameImagesProps) {
  return (
    <>
      <h2 className="mb-1">{say.holdings.theSameDisk}</h2>
      <ul className="mb-5 text-[14px]">
        {images.map(({ sha256, bytes, media }) => (
          <SameImage key={sha256} media={media} bytes={bytes} sha256={sha256} />
        ))}
      </ul>
    </>
  );
}

interface NearlyTheSameProps {
  nearly: { a: string; b: string; aTitle: string; bTitle: string; same: number; of: number }[];
}

interface SameImageProps {
  media: SameImagesProps['images'][number]['media'];
  bytes: number;
  sha256: string;
}

function SameImage({ media, bytes, sha256 }: SameImageProps) {
  return (
    <li className="border-b border-line py-1.5">
      {media.map(({ code: each, title, copyOf }, i) => (
        <span key={each}>
          {i > 0 && ', '}
          {code(each)} {title}
          {copyOf && <b> {say.holdings.aCopyOf({ copyOf })}</b>}
        </span>
      ))}{' '}
      <span className="text-[12px] text-ink-2">
        {say.holdings.bytes({ bytes: grouped(bytes) })}{' '}
        <span className="font-mono">{sha256.slice(0, 12)}</span>
      </span>{' '}
      {media.slice(1).map(({ code: each }) => (
        <Link
          key={each}
          href={sideBySidePage(media[0]!.code, each)}
          className="ml-2 text-[13px] font-[650] text-oxide hover:underline"
        >
          {say.holdings.andSideBySide({ code: media[0]!.code, each })}
        </Link>
      ))}
    </li>
  );
}

function NearlyTheSame({ nearly }: NearlyTheSameProps) {
  return (
    <>
      <h2 className="mb-1">{say.holdings.theSameDiskBut}</h2>
      <table className="mb-5 w-full border-collapse text-[14px]" data-testid="nearly">
        <thead>
          <tr className="border-b border-line text-[13px]">
            <DiskHeads />
            <th className="pr-4 text-right">{say.holdings.tracksTheSame}</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {nearly.map(({ a, b, aTitle, bTitle, same, of }) => (
            <tr key={`${a}/${b}`} className="border-b border-line align-top [&>td]:py-1.5">
              <DiskCell id={a} title={aTitle} />
              <DiskCell id={b} title={bTitle} />
              <td className="whitespace-nowrap pr-4 text-right">{say.holdings.of({ same, of })}</td>
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

interface SharedFilesProps {
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
}

function SharedFiles({ pairs }: SharedFilesProps) {
  return (
    <>
      <h2 className="mb-1">{say.holdings.theSameFilesOn}</h2>
      <table className="w-full border-collapse text-[14px]" data-testid="alike">
        <SharedHead />
        <tbody>
          {pairs.map(({ a, b, aTitle, bTitle, shared, ofA, ofB, examples }) => (
            <SharedRow
              key={`${a}/${b}`}
              a={a}
              aTitle={aTitle}
              b={b}
              bTitle={bTitle}
              shared={shared}
              ofA={ofA}
              ofB={ofB}
              examples={examples}
            />
          ))}
        </tbody>
      </table>
    </>
  );
}

function SharedHead() {
  return (
    <thead>
      <tr className="border-b border-line text-[13px]">
        <DiskHeads />
        <th className="pr-4 text-right">{say.holdings.filesShared}</th>
        <th>{say.holdings.suchAs}</th>
        <th />
      </tr>
    </thead>
  );
}

interface SharedRowProps {
  a: string;
  aTitle: string;
  b: string;
  bTitle: string;
  shared: number;
  ofA: number;
  ofB: number;
  examples: string[];
}

function SharedRow({ a, aTitle, b, bTitle, shared, ofA, ofB, examples }: SharedRowProps) {
  return (
    <tr className="border-b border-line align-top [&>td]:py-1.5">
      <DiskCell id={a} title={aTitle} />
      <DiskCell id={b} title={bTitle} />
      <td className="whitespace-nowrap pr-4 text-right">
        {say.holdings.ofAnd({ shared, ofA, ofB })}
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
  );
}
