'use client';
/** The copies of a medium that are kept, to take out, and where one may be written back. */
import { tell } from '@/messages/tell';
import { useMutation } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { post } from '../data/api';
import type { DocketData } from '../data/queries';
import { Button } from '../parts/button';
import { fileNameOfCode } from '@/core/medium-code';
import { grouped } from '@/core/text/grouped';
import { EmptyState, ErrorAlert, when } from '../parts/page';
import { ProtectedDownload } from '../parts/protected-download';
import { ExtractRows } from '../holdings/extracts';
import { PackingTrial } from '../holdings/packing-trial';
import { WritebackPanel } from '../writebacks/writeback-panel';
import type { ExtractAsked } from '@/server/features/extracts/extracts';
import { say } from '@/messages';
import { docketPage } from '../data/addresses';

/** What packing would save of this image; done in the background, like whatever is taken out. */
function Packing({ copyId }: { copyId: number }) {
  const pack = useMutation({
    mutationFn: () =>
      post('/api/extracts', {
        copies: [copyId],
        what: 'images',
        packed: true,
      } satisfies ExtractAsked),
  });
  return (
    <div className="mb-3">
      <div className="flex flex-wrap items-center gap-3">
        <PackingTrial copies={[copyId]} />
        <Button disabled={pack.isPending || pack.isSuccess} onClick={() => pack.mutate()}>
          {say.copies.packTheImage}
        </Button>
      </div>
      {pack.isSuccess && <ExtractRows />}
      <ErrorAlert>{pack.error?.message}</ErrorAlert>
    </div>
  );
}

function MadeFrom({ lineage }: { lineage: NonNullable<DocketData['lineage']> }) {
  return (
    <p>
      {say.copies.madeFrom}{' '}
      {lineage.base ? <CodeLink code={lineage.base} /> : say.copies.aBlankVolume}{' '}
      {say.copies.byChanges({ changes: lineage.changes.length })}{' '}
      <Link href={`/assembly/${lineage.id}`} className="text-oxide underline">
        {say.copies.seeThem}
      </Link>
    </p>
  );
}

/** What it was made from and what was made from it; and the beginning of another volume. */
function Lineage({ data: { medium, copy, contents, lineage, madeFrom } }: { data: DocketData }) {
  const router = useRouter();
  const begin = useMutation({
    mutationFn: () =>
      post<{ id: number }>('/api/assemblies', {
        title: say.copies.changed2({ title: medium.title }).slice(0, 200),
        baseId: copy!.id,
      }),
    onSuccess: ({ id }) => router.push(`/assembly/${id}`),
  });
  return (
    <div className="mb-3 text-[13px]" data-testid="lineage">
      {lineage && <MadeFrom lineage={lineage} />}
      {madeFrom.length > 0 && <MadeOfThis madeFrom={madeFrom} />}
      {contents.length > 0 && medium.form !== 'optical-disc' && (
        <p className="mt-1">
          <Button disabled={begin.isPending} onClick={() => begin.mutate()}>
            {say.copies.beginAnAssemblyWith}
          </Button>
        </p>
      )}
      <ErrorAlert>{begin.error?.message}</ErrorAlert>
    </div>
  );
}

interface Part {
  part: 'image' | 'sidecar' | 'zip' | 'capture' | 'cue';
  name: string;
  what: string;
  bytes: number | null;
  sha256: string | null;
}

const unmeasured = { bytes: null, sha256: null };

function MadeOfThis({ madeFrom }: Pick<DocketData, 'madeFrom'>) {
  return (
    <p>
      {say.copies.volumesWereMadeFrom}{' '}
      {madeFrom.map(({ code, title }) => (
        <CodeLink key={code} code={code} title={title} />
      ))}
    </p>
  );
}

function CodeLink({ code, title }: { code: string; title?: string }) {
  return (
    <Link
      href={docketPage(code)}
      title={title}
      className="mr-2 font-mono font-[650] hover:underline"
    >
      {code}
    </Link>
  );
}

/** What is kept of a medium and can be fetched. */
function partsOf(
  { medium: { code, form }, capture, contents }: DocketData,
  copy: NonNullable<DocketData['copy']>,
  isDisc: boolean,
): Part[] {
  const parts: Part[] = [
    {
      part: 'image',
      name: `${fileNameOfCode(code)}.${form === 'optical-disc' ? 'iso' : 'img'}`,
      what: whatImageIs(copy, isDisc),
      bytes: copy.imageBytes,
      sha256: copy.imageSha256,
    },
  ];
  if (copy.sidecarBlob)
    parts.push({
      part: 'sidecar',
      name: `${fileNameOfCode(code)}.sidecar.json`,
      what: say.copies.itsSidecarGradesOddities,
      ...unmeasured,
    });
  if (contents.length > 0)
    parts.push({
      part: 'zip',
      name: `${fileNameOfCode(code)}.zip`,
      what: say.copies.allFilesWithA,
      ...unmeasured,
    });
  if (capture)
    parts.push({
      part: 'capture',
      name: `${fileNameOfCode(code)}.${isDisc ? 'bin' : 'fsflux'}`,
      what: isDisc ? say.copies.rawImageEveryByte : say.copies.fluxCapture,
      bytes: capture.size,
      sha256: capture.sha256,
    });
  if (isDisc)
    parts.push({
      part: 'cue',
      name: `${fileNameOfCode(code)}.cue`,
      what: say.copies.itsSheetWhereEach,
      ...unmeasured,
    });
  return parts;
}

function whatImageIs({ blocks }: { blocks: object | null }, isDisc: boolean): string {
  if (isDisc) return say.copies.whatItsTrackOf;
  return blocks ? say.copies.imageOfTheDevice : say.copies.flatImage;
}

export function Copies({ data }: { data: DocketData }) {
  const { medium, copy, capture, layout, findings } = data;
  if (!copy) return <EmptyState>{say.copies.aSittingMakesThe}</EmptyState>;
  // Whoever takes it from here has read the warning above.
  const acknowledgesQuarantine = findings.length > 0 ? 'knowing=1' : '';
  const isDisc = (copy.blocks?.tracks.length ?? 0) > 0;
  const parts = partsOf(data, copy, isDisc);
  return (
    <>
      <WhereFrom copy={copy} />
      <PartsTable
        parts={parts}
        layout={layout}
        copy={copy}
        acknowledgesQuarantine={acknowledgesQuarantine}
      />
      <Lineage data={data} />
      <Packing copyId={copy.id} />
      {copy.problems.length > 0 && <CopyProblems copy={copy} />}
      <WritebackPanel
        image={{ copyId: copy.id, code: medium.code, hasFlux: capture !== null && !copy.blocks }}
      />
    </>
  );
}

interface PartsTableProps {
  parts: readonly Part[];
  layout: DocketData['layout'];
  copy: NonNullable<DocketData['copy']>;
  acknowledgesQuarantine: string;
}

function WhereFrom({ copy }: { copy: NonNullable<DocketData['copy']> }) {
  return (
    <p className="mb-2 text-[13px] text-ink-2" suppressHydrationWarning>
      {copy.source === 'upload'
        ? say.copies.takenInFrom({ sourceName: copy.sourceName })
        : copy.source === 'assembly'
          ? say.copies.putTogetherHere
          : say.copies.settledFromEverySitting}
      , {when(copy.madeAt)}
      {copy.layout ? ` · ${copy.layout}` : ''}
    </p>
  );
}

function CopyProblems({ copy }: { copy: NonNullable<DocketData['copy']> }) {
  return (
    <ul className="mb-3 text-[13px] text-ink-2">
      {copy.problems.map(({ said }, i) => (
        <li key={i}>{tell(said)}</li>
      ))}
    </ul>
  );
}

function PartsTable({ parts, layout, copy, acknowledgesQuarantine }: PartsTableProps) {
  return (
    <table className="mb-3 w-full border-collapse text-[13px]">
      <tbody>
        {parts.map(({ part, name, what, bytes, sha256 }) => (
          <PartRow
            key={part}
            name={name}
            what={what}
            bytes={bytes}
            sha256={sha256}
            part={part}
            layout={layout}
            copy={copy}
            acknowledgesQuarantine={acknowledgesQuarantine}
          />
        ))}
      </tbody>
    </table>
  );
}

interface KindLinksProps {
  part: string;
  layout: PartsTableProps['layout'];
  copy: PartsTableProps['copy'];
  acknowledgesQuarantine: string;
}

interface PartRowProps {
  name: string;
  what: string;
  bytes: number | null;
  sha256: string | null;
  part: string;
  layout: PartsTableProps['layout'];
  copy: PartsTableProps['copy'];
  acknowledgesQuarantine: string;
}

function PartRow({
  name,
  what,
  bytes,
  sha256,
  part,
  layout,
  copy,
  acknowledgesQuarantine,
}: PartRowProps) {
  return (
    <tr className="h-8 border-b border-line">
      <td className="whitespace-nowrap pr-4 font-mono font-[650]">{name}</td>
      <td className="pr-4 text-ink-2">{what}</td>
      <td className="whitespace-nowrap pr-4 text-right">
        {bytes !== null && say.copies.bytes4({ bytes: grouped(bytes) })}
      </td>
      <td
        className="max-w-0 truncate pr-4 font-mono text-[11px] text-ink-2"
        style={{ width: '16%' }}
        title={sha256 ?? undefined}
      >
        {sha256}
      </td>
      <KindLinks
        part={part}
        layout={layout}
        copy={copy}
        acknowledgesQuarantine={acknowledgesQuarantine}
      />
      <td className="whitespace-nowrap text-right">
        <a
          href={`/api/copies/${copy.id}/${part}?${acknowledgesQuarantine}`}
          className="font-[650] text-oxide hover:underline"
        >
          {say.copies.download}
        </a>
        {part !== 'sidecar' && part !== 'cue' && (
          <ProtectedDownload
            href={`/api/copies/${copy.id}/${part}?${acknowledgesQuarantine}`}
            name={name}
          />
        )}
      </td>
    </tr>
  );
}

function KindLinks({ part, layout, copy, acknowledgesQuarantine }: KindLinksProps) {
  return (
    <td className="whitespace-nowrap pr-3 text-right text-[12px] text-ink-2">
      {part === 'image' && layout && layout.kinds.length > 2 && (
        <>
          {say.copies.as}{' '}
          {layout.kinds.map((kind) => (
            <a
              key={kind}
              href={`/api/copies/${copy.id}/image?kind=${kind}&${acknowledgesQuarantine}`}
              className="ml-1 font-mono text-oxide hover:underline"
            >
              .{kind}
            </a>
          ))}
        </>
      )}
      {part === 'capture' && !copy.blocks && (
        <a
          href={`/api/copies/${copy.id}/capture?described&${acknowledgesQuarantine}`}
          title={say.copies.describedAbout}
          className="text-oxide hover:underline"
        >
          {say.copies.described}
        </a>
      )}
    </td>
  );
}
