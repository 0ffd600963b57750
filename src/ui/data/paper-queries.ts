/** What the pages of parcels, receipts, reports and of the room that all takes ask for. */
import { queryOptions } from '@tanstack/react-query';
import type { allParcels } from '@/server/features/bags/all-parcels';
import type { roomView } from '@/server/features/housekeeping/room';
import type { lotReport } from '@/server/features/receipts/lot-report';
import type { handBacks } from '@/server/features/receipts/queries';
import { get } from './api';
import type { Result } from './queries';

export type Parcels = Result<typeof allParcels>;
export type HandBacks = Result<typeof handBacks>;
export type Room = Result<typeof roomView>;
type Report = Awaited<ReturnType<typeof lotReport>>;

export const roomQuery = queryOptions({
  queryKey: ['fixity', 'room'],
  queryFn: () => get<Room>('/api/store/room'),
});
export const parcelsQuery = queryOptions({
  queryKey: ['parcels'],
  queryFn: () => get<Parcels>('/api/parcels'),
});
export const handBacksQuery = queryOptions({
  queryKey: ['media', 'hand-backs'],
  queryFn: () => get<HandBacks>('/api/receipts'),
});
export const lotReportQuery = (name: string) =>
  queryOptions({
    queryKey: ['media', 'report', name],
    queryFn: () => get<Report>(`/api/lots/${encodeURIComponent(name)}/report`),
  });
