'use client';
/** One track, decoded in the page from every reading of it: how each sector came to its grade. */
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

function headline({ cylinder, head }: TrackPlace, sectors: readonly TrackSector[]): string {
  const unsound = sectors.filter(({ grade }) => !isSound(grade));
  const place = `Cylinder ${cylinder}, head ${head}`;
  if (sectors.length === 0) return `${place}: nothing was read`;
  if (unsound.length === 0) return `${place}: every sector is sound`;
  return unsound.length === 1
    ? `${place}: sector ${unsound[0]!.r} is ${unsound[0]!.grade}`
    : `${place}: ${unsound.length} sectors are in doubt`;
}

function from({ source, grade, mending }: TrackSector): string {
  if (!source || !isSound(grade)) return '–';
  if (mending === 'voting') return 'all its turns together';
  return (
    `reading ${source.reading + 1}, turn ${Math.max(0, source.turn + 1)}, ` +
    `${RECOVERY_WORDS[source.recovery]}`
  );
}

async function shown(copyId: number, place: TrackPlace, layout: Layout | null) {
  const data = await fetchTrack(copyId, place);
  return { ...(await decodeTrack(data, layout)), readings: data.readings.length };
}

export function TrackPanel({
  code,
  copyId,
  place,
  layout,
  onClose,
}: {
  code: string;
  copyId: number;
  place: TrackPlace;
  layout: Layout | null;
  onClose: () => void;
}) {
  const router = useRouter();
  const { data, error } = useQuery({
    queryKey: ['track', copyId, place.cylinder, place.head],
    queryFn: () => shown(copyId, place, layout),
    retry: false,
    staleTime: Infinity,
  });
  return (
    <section
      aria-label="Track"
      data-testid="track-panel"
      className="mt-3 border border-l-[7px] border-line border-l-oxide bg-sheet px-4 py-3"
    >
      <TrackHead data={data} place={place} router={router} code={code} onClose={onClose} />
      <ErrorAlert>{error?.message}</ErrorAlert>
      {data && (
        <>
          <p className="mb-2 text-[13px] text-ink-2">
            {data.track.formats.map(describeFound).join('; and ') || 'no code was found'} ·{' '}
            {data.readings} {data.readings === 1 ? 'reading' : 'readings'}, decoded here in{' '}
            {Math.max(1, Math.round(data.milliseconds))} ms
          </p>
          {data.track.sectors.length === 0 ? (
            <EmptyState>
              No sector of any kind lies on this track, or none can be made out.
            </EmptyState>
          ) : (
            <SectorTable data={data} place={place} />
          )}
        </>
      )}
    </section>
  );
}

function TrackHead({
  data,
  place,
  router,
  code,
  onClose,
}: {
  data: { readings: number; track: TrackDecode; milliseconds: number } | undefined;
  place: TrackPlace;
  router: AppRouterInstance;
  code: string;
  onClose: () => void;
}) {
  return (
    <div className="flex items-baseline justify-between gap-4">
      <h3 className="text-[17px] font-[650]">
        {data
          ? headline(place, data.track.sectors)
          : `Decoding cylinder ${place.cylinder}, head ${place.head} …`}
      </h3>
      <Button
        hotkey="l"
        onClick={() =>
          router.push(
            `/media/${code}/loupe?cylinder=${place.cylinder}&head=${place.head}` +
              `${place.sector === undefined ? '' : `&sector=${place.sector}`}`,
          )
        }
      >
        Open in the loupe
      </Button>
      <button
        type="button"
        onClick={onClose}
        className="text-[13px] font-[650] text-oxide underline"
      >
        Close the track
      </button>
    </div>
  );
}

function SectorTable({
  data,
  place,
}: {
  data: { readings: number; track: TrackDecode; milliseconds: number };
  place: TrackPlace;
}) {
  return (
    <table className="w-full border-collapse text-[13px]">
      <thead>
        <tr className="border-b border-line">
          <th className="pr-4">Sector</th>
          <th className="pr-4 text-right">Bytes</th>
          <th>Grade</th>
          <th>Bytes came from</th>
          <th>Why</th>
          <th>Remarks</th>
        </tr>
      </thead>
      <tbody>
        {data.track.sectors.map((sector, i) => (
          <tr key={i} className="border-b border-line align-top [&>td]:py-1">
            <td className="pr-4 font-mono font-[650]">
              {sector.r}
              {sector.c !== place.cylinder && (
                <span className="font-sans font-normal text-ink-2"> of cylinder {sector.c}</span>
              )}
            </td>
            <td className="pr-4 text-right">{sector.size}</td>
            <td className="whitespace-nowrap pr-4">
              <span className="flex items-center gap-1.5">
                <GradeSwatch grade={sector.grade} />
                {sector.grade}
                {sector.mending && `, ${MENDING_WORDS[sector.mending]}`}
              </span>
            </td>
            <td className="whitespace-nowrap pr-4">{from(sector)}</td>
            <td className="pr-4">{sector.why}</td>
            <td>
              {[
                ...sector.remarks.map(({ what }) => what),
                ...(sector.deleted ? ['deleted-data mark'] : []),
              ].join('; ') || '–'}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
