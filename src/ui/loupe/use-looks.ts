'use client';
/** What the loupe asks its workers for: the turns looked at closely, a recovery tried, one kept. */
import { useMutation, useQuery } from '@tanstack/react-query';
import { Dispatch, SetStateAction } from 'react';
import type { RecoverySetting } from '@/core/encoding';
import type { Layout } from '@/core/layout/layout';
import { trackName } from '@/core/reading/decode/decode-capture';
import type { TrackSector } from '@/core/reading/track-sector';
import { post } from '../data/api';
import { type DocketData } from '../data/queries';
import { lookCloselyInWorker, weighInWorker } from '../decode/look-closely';
import { decodeTrack, type TrackData, type TrackPlace } from '../decode/track-data';
import { useKey } from '../parts/keys';
import { SHOWN_BYTES } from './aligned-readings';
import type { FoundFormat } from '@/core/reading/decode/track-work';
import { AppRouterInstance } from 'next/dist/shared/lib/app-router-context.shared-runtime';
import { docketPage } from '../data/addresses';

const COLUMNS = 520;

const ROWS = 47;

/** Parts of the turn that all turns are weighed in: a sector of most layouts has some hundred. */
const WEIGHED_PARTS = 4096;

interface UseLooksGiven {
  data: DocketData;
  place: TrackPlace;
  setting: RecoverySetting | null;
  from: number;
  to: number;
  format: FoundFormat | undefined;
  own: TrackData;
  layout: Layout | null;
  router: AppRouterInstance;
}

export function useLooks({
  data,
  place,
  setting,
  from,
  to,
  format,
  own,
  layout,
  router,
}: UseLooksGiven) {
  const looked = useQuery({
    queryKey: ['looked', data.copy!.id, trackName(place), JSON.stringify(setting), from, to],
    retry: false,
    staleTime: Infinity,
    placeholderData: (before) => before,
    enabled: format !== undefined,
    queryFn: () =>
      lookCloselyInWorker({
        readings: own.readings,
        drive: own.drive,
        encoding: format!.encoding,
        cellTicks: format!.cellTicks,
        setting,
        from,
        to,
        columns: COLUMNS,
        rows: ROWS,
      }),
  });
  const trial = useQuery({
    queryKey: ['trial', data.copy!.id, trackName(place), JSON.stringify(setting)],
    enabled: setting !== null,
    retry: false,
    staleTime: Infinity,
    queryFn: () => decodeTrack(own, layout, setting),
  });
  const keep = useMutation({
    mutationFn: (reason: string) =>
      post(`/api/track-overrides/${encodeURIComponent(data.medium.code)}`, {
        ...place,
        setting,
        reason,
      }),
    onSuccess: () => router.push(docketPage(data.medium.code, '#surface')),
  });
  return { looked, trial, keep };
}

/** All turns of the track weighed together: once, whatever is looked at. */
export function useWeighed({
  data,
  place,
  format,
  own,
}: Pick<UseLooksGiven, 'data' | 'place' | 'format' | 'own'>) {
  return useQuery({
    queryKey: ['weighed', data.copy!.id, trackName(place)],
    retry: false,
    staleTime: Infinity,
    enabled: format !== undefined,
    queryFn: ({ signal }) =>
      weighInWorker(
        {
          readings: own.readings,
          drive: own.drive,
          encoding: format!.encoding,
          cellTicks: format!.cellTicks,
          columns: WEIGHED_PARTS,
        },
        signal,
      ),
  });
}

interface UseLoupeKeysGiven {
  step: (by: 1 | -1, among: readonly TrackSector[]) => void;
  shown: readonly TrackSector[];
  setZoom: Dispatch<SetStateAction<[number, number]>>;
  setMoved: Dispatch<SetStateAction<number>>;
  moved: number;
  router: AppRouterInstance;
  data: DocketData;
}

export function useLoupeKeys({
  step,
  shown,
  setZoom,
  setMoved,
  moved,
  router,
  data,
}: UseLoupeKeysGiven) {
  useKey('ArrowRight', () => step(1, shown));
  useKey('ArrowLeft', () => step(-1, shown));
  useKey('z', () => setZoom([0, 1]));
  useKey('[', () => setMoved(moved - SHOWN_BYTES / 2));
  useKey(']', () => setMoved(moved + SHOWN_BYTES / 2));
  useKey('Escape', () => router.push(docketPage(data.medium.code, '#surface')));
}
