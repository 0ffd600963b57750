'use client';
/** One track, decoded in the page from every reading of it: how each sector came to its grade. */
import { GRADE_WORDS } from '@/messages/names';
import { tell } from '@/messages/tell';
import { useQuery } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import type { Layout } from '@/core/layout/layout';
import { describeFound } from '@/core/reading/decode/track-formats';
import { isSound } from '@/core/reading/grades';
import type { TrackSector } from '@/core/reading/track-sector';
import { decodeTrack, fetchTrack, type TrackPlace } from '../decode/track-data';
import { Button } from '../parts/button';
import { GradeSwatch } from '../parts/grade';
import { EmptyState, ErrorAlert } from '../parts/page';
import { MENDING_WORDS, RECOVERY_WORDS } from '../parts/words';
import { TrackDecode } from '@/core/reading/decode/track-decoder';
import { AppRouterInstance } from 'next/dist/shared/lib/app-router-context.shared-runtime';
import { say } from '@/messages';
import { docketPage } from '../data/addresses';

function headline({ cylinder, head }: TrackPlace, sectors: readonly TrackSector[]): string {
  const unsound = sectors.filter(({ grade }) => !isSound(grade));
  const place = say.copies.cylinderHead2({ cylinder, head });
  if (sectors.length === 0) return say.copies.nothingWasRead({ place });
  if (unsound.length === 0) return say.copies.everySectorIsSound({ place });
  return unsound.length === 1
    ? say.copies.sectorIs({ place, r: unsound[0]!.r, grade: unsound[0]!.grade })
    : say.copies.sectorsAreInDoubt({ place, unsound: unsound.length });
}

function from({ source, grade, mending }: TrackSector): string {
  if (!source || !isSound(grade)) return '–';
  if (mending === 'voting') return say.copies.allItsTurnsTogether;
  return say.copies.readingTurn({
    reading: source.reading + 1,
    max: Math.max(0, source.turn + 1),
    recoveryWord: RECOVERY_WORDS[source.recovery],
  });
}

async function shown(copyId: number, place: TrackPlace, layout: Layout | null) {
  const data = await fetchTrack(copyId, place);
  return { ...(await decodeTrack(data, layout)), readings: data.readings.length };
}

interface TrackPanelProps {
  code: string;
  copyId: number;
  place: TrackPlace;
  layout: Layout | null;
  onClose: () => void;
}

export function TrackPanel({ code, copyId, place, layout, onClose }: TrackPanelProps) {
  const router = useRouter();
  const { data, error } = useQuery({
    queryKey: ['track', copyId, place.cylinder, place.head],
    queryFn: () => shown(copyId, place, layout),
    retry: false,
    staleTime: Infinity,
  });
  return (
    <section
      aria-label={say.copies.track}
      data-testid="track-panel"
      className="mt-3 border border-l-[7px] border-line border-l-oxide bg-sheet px-4 py-3"
    >
      <TrackHead data={data} place={place} router={router} code={code} onClose={onClose} />
      <ErrorAlert>{error?.message}</ErrorAlert>
      {data && (
        <>
          <Decoded data={data} />
          {data.track.sectors.length === 0 ? (
            <EmptyState>{say.copies.noSectorOfAny}</EmptyState>
          ) : (
            <SectorTable data={data} place={place} />
          )}
        </>
      )}
    </section>
  );
}

interface TrackHeadProps {
  data: { readings: number; track: TrackDecode; milliseconds: number } | undefined;
  place: TrackPlace;
  router: AppRouterInstance;
  code: string;
  onClose: () => void;
}

function Decoded({
  data,
}: {
  data: { readings: number; track: TrackDecode; milliseconds: number };
}) {
  return (
    <p className="mb-2 text-[13px] text-ink-2">
      {data.track.formats.map((format) => tell(describeFound(format))).join('; and ') ||
        say.copies.noCodeWasFound}{' '}
      {say.copies.readingsDecodedHereIn({
        readings: data.readings,
        max: Math.max(1, Math.round(data.milliseconds)),
      })}
    </p>
  );
}

function TrackHead({ data, place, router, code, onClose }: TrackHeadProps) {
  return (
    <div className="flex items-baseline justify-between gap-4">
      <h3 className="text-[17px] font-[650]">
        {data
          ? headline(place, data.track.sectors)
          : say.copies.decodingCylinderHead({ cylinder: place.cylinder, head: place.head })}
      </h3>
      <Button
        hotkey="l"
        onClick={() =>
          router.push(
            docketPage(code, `/loupe?cylinder=${place.cylinder}&head=${place.head}`) +
              `${place.sector === undefined ? '' : `&sector=${place.sector}`}`,
          )
        }
      >
        {say.copies.openInTheLoupe}
      </Button>
      <button
        type="button"
        onClick={onClose}
        className="text-[13px] font-[650] text-oxide underline"
      >
        {say.copies.closeTheTrack}
      </button>
    </div>
  );
}

interface SectorTableProps {
  data: { readings: number; track: TrackDecode; milliseconds: number };
  place: TrackPlace;
}

function SectorTable({ data, place }: SectorTableProps) {
  return (
    <table className="w-full border-collapse text-[13px]">
      <SectorHead />
      <tbody>
        {data.track.sectors.map((sector, i) => (
          <SectorRow key={i} sector={sector} place={place} />
        ))}
      </tbody>
    </table>
  );
}

function SectorHead() {
  return (
    <thead>
      <tr className="border-b border-line">
        <th className="pr-4">{say.copies.sector2}</th>
        <th className="pr-4 text-right">{say.copies.bytes3}</th>
        <th>{say.copies.grade}</th>
        <th>{say.copies.bytesCameFrom}</th>
        <th>{say.copies.why}</th>
        <th>{say.copies.remarks}</th>
      </tr>
    </thead>
  );
}

function SectorRow({ sector, place }: { sector: TrackSector; place: TrackPlace }) {
  return (
    <tr className="border-b border-line align-top [&>td]:py-1">
      <td className="pr-4 font-mono font-[650]">
        {sector.r}
        {sector.c !== place.cylinder && (
          <span className="font-sans font-normal text-ink-2">
            {' '}
            {say.copies.ofCylinder({ c: sector.c })}
          </span>
        )}
      </td>
      <td className="pr-4 text-right">{sector.size}</td>
      <td className="whitespace-nowrap pr-4">
        <span className="flex items-center gap-1.5">
          <GradeSwatch grade={sector.grade} />
          {GRADE_WORDS[sector.grade]}
          {sector.mending && `, ${MENDING_WORDS[sector.mending]}`}
        </span>
      </td>
      <td className="whitespace-nowrap pr-4">{from(sector)}</td>
      <td className="pr-4">{tell(sector.why)}</td>
      <td>
        {[
          ...sector.remarks.map(({ what }) => tell(what)),
          ...(sector.deleted ? [say.copies.deletedDataMark] : []),
        ].join('; ') || '–'}
      </td>
    </tr>
  );
}
