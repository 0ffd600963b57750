'use client';
/**
 * The bench as it is read from a metre away: one station large, the others in a row, nothing small.
 */
import { GRADE_WORDS } from '@/messages/names';
import { useQuery } from '@tanstack/react-query';
import { GRADES } from '@/core/reading/grades';
import { sittingQuery, type Sitting, type Station } from '../data/queries';
import { grouped } from '@/core/text/grouped';
import { GradeSwatch } from '../parts/grade';
import { doing, waitsFor } from './station-state';
import { say } from '@/messages';

function share(station: Station, sitting: Sitting | undefined): string | null {
  if (sitting?.blocks) {
    const { unread } = sitting.tally;
    return (
      `${Math.floor((100 * (sitting.blocks.device.blocks - unread)) / sitting.blocks.device.blocks)} ` +
      '%'
    );
  }
  const tracksWanted = sitting?.tracksWanted;
  if (!station.sitting || !tracksWanted) return null;
  return `${Math.min(100, Math.floor((100 * station.tracks.length) / tracksWanted))} %`;
}

interface AfarViewProps {
  stations: readonly Station[];
  station: Station;
  onClose: () => void;
}

export function AfarView({ stations, station, onClose }: AfarViewProps) {
  const live = station.sitting?.id;
  const { data: sitting } = useQuery({ ...sittingQuery(live ?? 0), enabled: live !== undefined });
  const waits = waitsFor(station);
  return (
    <div className="fixed inset-0 z-30 flex flex-col bg-ground" data-testid="afar">
      <div
        className={`flex min-h-0 flex-1 flex-col justify-center px-[5vw] ${waits ? 'bg-ochre-wash' : ''}`}
      >
        <p className="text-[4.2vh] text-ink-2">
          {say.stations.station({ id: station.id })}

          {station.medium && (
            <>
              {' '}
              · <span className="font-mono">{station.medium.code}</span>
            </>
          )}
        </p>
        <h1
          className={`text-[9vh] leading-[1.08] ${waits ? 'waits' : ''}`}
          style={{ fontSize: '9vh' }}
        >
          {sitting?.state === 'asks' ? sitting.now : (waits ?? doing(station))}
        </h1>
        {sitting && <AfarTally station={station} sitting={sitting} />}
      </div>
      <OtherStations stations={stations} station={station} onClose={onClose} />
    </div>
  );
}

function AfarTally({ station, sitting }: { station: Station; sitting: Sitting }) {
  return (
    <div className="mt-[4vh] flex flex-wrap items-end gap-x-[4vw] gap-y-[2vh]">
      {share(station, sitting) && (
        <p className="text-[13vh] font-[650] leading-none">{share(station, sitting)}</p>
      )}
      <dl className="flex gap-[2.6vw]">
        {GRADES.map((grade) => (
          <div key={grade} className="flex flex-col-reverse">
            <dt className="flex items-center gap-3 text-[2.8vh] text-ink-2">
              <GradeSwatch grade={grade} size={24} />
              {GRADE_WORDS[grade]}
            </dt>
            <dd className="text-[6.4vh] font-[650] leading-none">
              {grouped(sitting.tally[grade])}
            </dd>
          </div>
        ))}
      </dl>
    </div>
  );
}

interface OtherStationsProps {
  stations: readonly Station[];
  station: Station;
  onClose: () => void;
}

function OtherStations({ stations, station, onClose }: OtherStationsProps) {
  return (
    <div className="flex shrink-0 bg-sidebar text-sidebar-ink">
      {stations
        .filter(({ id }) => id !== station.id)
        .map((other) => (
          <div
            key={other.id}
            className={
              'min-w-0 flex-1 border-r border-white/10 px-[1.4vw] py-[2vh] ' +
              `${waitsFor(other) ? 'bg-ochre-deep' : ''}`
            }
          >
            <p className="text-[4.4vh] font-[650] leading-tight">{other.id}</p>
            <p
              className={
                'line-clamp-2 text-[2.5vh] leading-tight ' +
                `${waitsFor(other) ? 'waits font-[650]' : 'text-sidebar-ink-2'}`
              }
            >
              {other.medium || other.sitting ? doing(other) : say.stations.empty}
            </p>
          </div>
        ))}
      <button
        type="button"
        onClick={onClose}
        aria-keyshortcuts="v"
        className="px-[1.4vw] text-[2.2vh] text-sidebar-ink-2 hover:text-sidebar-ink"
      >
        {say.stations.backV}
      </button>
    </div>
  );
}
