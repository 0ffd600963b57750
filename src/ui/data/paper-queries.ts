/** What the pages of parcels, receipts and reports ask for. */
import { queryOptions } from '@tanstack/react-query';
import type { allParcels } from '@/server/features/bags/all-parcels';
import type { lotReport } from '@/server/features/receipts/lot-report';
import type { handBacks } from '@/server/features/receipts/queries';
import { get } from './api';
import type { Result } from './queries';

export type Parcels = Result<typeof allParcels>;
export type HandBacks = Result<typeof handBacks>;
type Report = Awaited<ReturnType<typeof lotReport>>;

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
