'use client';
/** The loupe: one track from the chart down to its transitions, over every reading of it. */
import { GRADE_WORDS } from '@/messages/names';
import { tell } from '@/messages/tell';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter, useSearchParams } from 'next/navigation';
import { Dispatch, SetStateAction, useMemo, useState } from 'react';
import type { RecoverySetting } from '@/core/encoding';
import type { Layout } from '@/core/layout/layout';
import { differingBytes, type LoupeTurn } from '@/core/reading/analysis/loupe';
import { isSound } from '@/core/reading/grades';
import { trackName } from '@/core/reading/decode/decode-capture';
import type { TrackSector } from '@/core/reading/track-sector';
import { describeFound } from '@/core/reading/decode/track-formats';
import { docketQuery, type DocketData } from '../data/queries';
import { decodeTrack, fetchTrack, type TrackData, type TrackPlace } from '../decode/track-data';
import { Button } from '../parts/button';
import { EmptyState, PageHead, ErrorAlert } from '../parts/page';
import { SHOWN_BYTES, looksAt } from './aligned-readings';
import { isPlaced, TurnsSeen } from './turns-seen';
import { useLooks, useLoupeKeys, useWeighed } from './use-looks';
import { say } from '@/messages';
import { LoupeColumns } from './loupe-columns';
import { docketPage } from '../data/addresses';

const NO_TURNS: LoupeTurn[] = [];

export function LoupeView({ code }: { code: string }) {
  const { data } = useQuery(docketQuery(code));
  const parameters = useSearchParams();
  const place = {
    cylinder: Number(parameters.get('cylinder') ?? 0),
    head: Number(parameters.get('head') ?? 0),
  };
  const { copy } = data ?? {};
  const layout = (data?.layout?.rule as Layout | undefined) ?? null;
  const track = useQuery({
    queryKey: ['loupe', copy?.id, place.cylinder, place.head],
    enabled: Boolean(copy),
    retry: false,
    staleTime: Infinity,
    queryFn: async () => {
      const own = await fetchTrack(copy!.id, place);
      const kept =
        data!.settings.find(
          ({ cylinder, head }) => cylinder === place.cylinder && head === place.head,
        )?.setting ?? null;
      return { own, kept, ...(await decodeTrack(own, layout, kept)) };
    },
  });
  const over = <LoupeOver code={code} place={place} track={track} />;
  if (!copy) return <PageHead over={over} title={say.loupe.thereIsNoCopy} />;
  if (track.error)
    return (
      <>
        <PageHead over={over} title={say.loupe.thisTrackHasNo} />
        <ErrorAlert>{track.error.message}</ErrorAlert>
      </>
    );
  if (!track.data) return <PageHead over={over} title={say.loupe.decodingTheTrack} />;
  return (
    <Looking
      key={`${copy.id}/${trackName(place)}`}
      data={data!}
      place={place}
      own={track.data.own}
      sectors={track.data.track.sectors}
      formats={track.data.track.formats}
      kept={track.data.kept}
      over={over}
      layout={layout}
      wanted={parameters.get('sector')}
    />
  );
}

interface LookingProps {
  data: DocketData;
  place: TrackPlace;
  own: TrackData;
  sectors: readonly TrackSector[];
  formats: Parameters<typeof describeFound>[0][];
  kept: RecoverySetting | null;
  over: React.ReactNode;
  layout: Layout | null;
  wanted: string | null;
}

function LoupeOver({
  code,
  place,
  track,
}: {
  code: string;
  place: { cylinder: number; head: number };
  track: { data?: { own: { readings: readonly unknown[] } } };
}) {
  return (
    <>
      <Link href={docketPage(code)} className="font-mono underline">
        {code}
      </Link>{' '}
      {say.loupe.cylinderHead({ cylinder: place.cylinder, head: place.head })}
      {track.data && say.loupe.readings({ readings: track.data.own.readings.length })}
    </>
  );
}

function titleOf(sector: TrackSector | null, apart: readonly number[]): string {
  if (!sector) return say.loupe.nothingIsRecordedOn;
  const differ =
    apart.length > 0
      ? say.loupe.bytesDifferTheFirst({ apart: apart.length, apart2: apart[0] })
      : '';
  return say.loupe.sectorIs({ r: sector.r, grade: GRADE_WORDS[sector.grade], differ });
}

/** The sector that is looked at, and the one after it among those in doubt or all of them. */
function useChosen(sectors: readonly TrackSector[], wanted: string | null) {
  const doubtful = sectors.filter(({ grade }) => !isSound(grade));
  const [chosen, setChosen] = useState<TrackSector | null>(
    () =>
      sectors.find(({ r }) => String(r) === wanted) ??
      doubtful.find(({ angle }) => angle !== null) ??
      sectors[0] ??
      null,
  );
  /** Bytes that the readings were moved along by hand. */
  const [moved, setMoved] = useState(0);
  const choose = (sector: TrackSector) => {
    setChosen(sector);
    setMoved(0);
  };
  const step = (by: 1 | -1, among: readonly TrackSector[]) => {
    if (among.length === 0) return;
    const at = among.findIndex(({ r, size }) => r === chosen?.r && size === chosen.size);
    choose(among[(at + by + among.length) % among.length]!);
  };
  return { doubtful, chosen, choose, step, moved, setMoved };
}

/** A sector as it is in another decode of the track. */
const sameIn = (sectors: readonly TrackSector[], { r, size }: TrackSector) =>
  sectors.find((each) => each.r === r && each.size === size);

function Looking({ data, place, own, sectors, formats, kept, over, layout, wanted }: LookingProps) {
  const router = useRouter();
  const [setting, setSetting] = useState<RecoverySetting | null>(kept);
  const [[from, to], setZoom] = useState<[number, number]>([0, 1]);
  const { doubtful, chosen, choose, step, moved, setMoved } = useChosen(sectors, wanted);
  const [format] = formats;
  const asked = { data, place, setting, from, to, format, own, layout, router };
  const { looked, trial, keep } = useLooks(asked);
  const weighed = useWeighed(asked);
  const turns = looked.data ?? NO_TURNS;
  const shown = setting && trial.data ? trial.data.track.sectors : sectors;
  const sector = chosen && (sameIn(shown, chosen) ?? chosen);
  const looks = useMemo(() => (sector ? looksAt(turns, sector) : []), [turns, sector]);
  const apart = useMemo(
    () => differingBytes(looks.flatMap(({ sighting }) => (sighting ? [sighting] : []))),
    [looks],
  );
  const last = (sector?.size ?? 512) - SHOWN_BYTES;
  const start = Math.max(0, Math.min(last, (apart[0] ?? 4) - 4 + moved));
  useLoupeKeys({ step, shown, setZoom, setMoved, moved, router, data });
  const closer = () => {
    if (!isPlaced(sector)) return;
    const { angle, span } = sector;
    setZoom([Math.max(0, angle - span * 0.1), Math.min(1, angle + span * 1.1)]);
  };
  const found = formats.map((each) => tell(describeFound(each))).join('; and ');
  return (
    <div className="pb-4">
      <PageHead
        over={
          <>
            {over}
            {found && ` · ${found}`}
          </>
        }
        title={titleOf(sector, apart)}
      >
        <Button hotkey="n" disabled={doubtful.length === 0} onClick={() => step(1, doubtful)}>
          {say.loupe.nextInDoubt}
        </Button>
        <Button hotkey="c" disabled={!sector} onClick={closer}>
          {say.loupe.lookCloser}
        </Button>
        <LoupeHead setSetting={setSetting} setting={setting} />
      </PageHead>
      {!format && <EmptyState>{say.loupe.noCodeThatIs}</EmptyState>}
      {format && (
        <>
          <TurnsSeen
            turns={turns}
            weighed={weighed}
            looks={looks}
            format={format}
            tickHz={own.drive.tickHz}
            view={{ from, to }}
            sector={sector}
            shown={shown}
            onZoom={setZoom}
            onChoose={choose}
          />
          <LoupeColumns
            sector={sector}
            weights={weighed.data ?? null}
            start={start}
            looks={looks}
            own={own}
            format={format}
            apart={apart}
            setting={setting}
            setSetting={setSetting}
            sectors={sectors}
            trial={trial}
            keep={keep}
            looked={looked}
          />
        </>
      )}
    </div>
  );
}

function LoupeHead({
  setSetting,
  setting,
}: {
  setSetting: Dispatch<SetStateAction<RecoverySetting | null>>;
  setting: RecoverySetting | null;
}) {
  return (
    <Button
      hotkey="t"
      tone="primary"
      onClick={() =>
        setSetting(
          setting ? null : { phaseGain: 0.6, rateGain: 0.1, shiftGain: 0, drift: 0.4, cell: 1 },
        )
      }
    >
      {setting ? say.loupe.usualRecovery : say.loupe.tryOtherRecovery}
    </Button>
  );
}
