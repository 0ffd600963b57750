'use client';
/** What is known of the chosen sector, and another recovery of it, side by side. */
import { Dispatch, SetStateAction } from 'react';
import type { RecoverySetting } from '@/core/encoding';
import type { TrackWeights } from '@/core/reading/analysis/weigh-track';
import type { TrackSector } from '@/core/reading/track-sector';
import { type TrackData } from '../decode/track-data';
import { AssumedPanel } from './assumed-panel';
import { PlacedLook, WhyPanel } from './aligned-readings';
import { SettingForm } from './setting-form';
import { useLooks } from './use-looks';
import { SectorReadings } from './sector-readings';
import type { FoundFormat } from '@/core/reading/decode/track-work';

interface LoupeColumnsProps {
  sector: TrackSector | null;
  weights: TrackWeights | null;
  start: number;
  looks: PlacedLook[];
  own: TrackData;
  format: FoundFormat;
  apart: number[];
  setting: RecoverySetting | null;
  setSetting: Dispatch<SetStateAction<RecoverySetting | null>>;
  sectors: readonly TrackSector[];
  trial: ReturnType<typeof useLooks>['trial'];
  keep: ReturnType<typeof useLooks>['keep'];
  looked: ReturnType<typeof useLooks>['looked'];
}

export function LoupeColumns({
  sector,
  weights,
  start,
  looks,
  own,
  format,
  apart,
  setting,
  setSetting,
  sectors,
  trial,
  keep,
  looked,
}: LoupeColumnsProps) {
  return (
    <div className="mt-2 grid grid-cols-[minmax(0,1fr)_290px] gap-6">
      <SectorReadings
        sector={sector}
        start={start}
        looks={looks}
        own={own}
        format={format}
        apart={apart}
      />
      <div className="space-y-3">
        {sector && <WhyPanel sector={sector} looks={looks} />}
        <SettingForm
          setting={setting}
          onSet={setSetting}
          before={sectors}
          outcome={
            trial.data
              ? { sectors: trial.data.track.sectors, milliseconds: trial.data.milliseconds }
              : null
          }
          working={trial.isFetching}
          onKeep={(reason) => keep.mutate(reason)}
          keeping={keep.isPending}
          trouble={keep.error?.message ?? looked.error?.message}
        />
        {sector && weights && <AssumedPanel sector={sector} weights={weights} />}
      </div>
    </div>
  );
}
