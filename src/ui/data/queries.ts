/** What pages ask for, each declared once: its key and where it comes from. */
import { queryOptions } from '@tanstack/react-query';
import type { Layout } from '@/core/layout/layout';
import type { SignatureRule } from '@/core/scan/rules';
import type { listAlike } from '@/server/services/alike';
import type { Docket } from '@/server/services/docket';
import type { Differences } from '@/server/services/differences';
import type { LayoutView } from '@/server/services/layouts';
import type { LedgerLine } from '@/server/services/ledger';
import type { listArrivals, listLots, searchHoldings } from '@/server/services/media';
import type { listOwed } from '@/server/services/sets';
import type { ReturnView } from '@/server/services/returns';
import type { SittingView } from '@/server/services/sittings';
import type { StationView } from '@/server/services/stations';
import type { ShelfItem } from '@/benchlink/messages';
import { get } from './api';

/** Dates arrive as text. */
export type Sent<T> = T extends Date ? string : T extends (infer U)[] ? Sent<U>[] : T extends object ? { [K in keyof T]: Sent<T[K]> } : T;
type Result<F extends (...args: never[]) => Promise<unknown>> = Sent<Awaited<ReturnType<F>>>;

export type Station = Sent<StationView>;
export type Sitting = Sent<SittingView>;
export type Arrivals = { media: Result<typeof listArrivals>; lots: Result<typeof listLots>; nextCode: string };
export type Alike = Result<typeof listAlike>;
export type Owed = Result<typeof listOwed>;
export type Holdings = Result<typeof searchHoldings>;
export type DocketData = Sent<Docket>;
export type ReturnRow = Sent<ReturnView>;
export type LayoutRow = Sent<LayoutView>;
export type DifferencesData = Sent<Differences>;
export type LedgerRow = Sent<LedgerLine>;

export const stationsQuery = queryOptions({ queryKey: ['stations'], queryFn: () => get<Station[]>('/api/stations') });
export const arrivalsQuery = queryOptions({ queryKey: ['media', 'arrivals'], queryFn: () => get<Arrivals>('/api/media') });
export const holdingsQuery = (q: string) => queryOptions({ queryKey: ['media', 'holdings', q], queryFn: () => get<Holdings>(`/api/holdings?q=${encodeURIComponent(q)}`) });
export const docketQuery = (code: string) => queryOptions({ queryKey: ['media', 'docket', code], queryFn: () => get<DocketData>(`/api/docket/${encodeURIComponent(code)}`) });
export const sittingQuery = (id: number) => queryOptions({ queryKey: ['sitting', id], queryFn: () => get<Sitting>(`/api/sittings/${id}`) });
export const alikeQuery = queryOptions({ queryKey: ['media', 'alike'], queryFn: () => get<Alike>('/api/alike') });
export const rulesQuery = queryOptions({ queryKey: ['rules'], queryFn: () => get<SignatureRule[]>('/api/rules') });
export const owedQuery = queryOptions({ queryKey: ['media', 'owed'], queryFn: () => get<Owed>('/api/owed') });
export const returnsQuery = queryOptions({ queryKey: ['returns'], queryFn: () => get<ReturnRow[]>('/api/returns') });
export const ledgerQuery = queryOptions({ queryKey: ['ledger', 'all'], queryFn: () => get<LedgerRow[]>('/api/ledger') });
export const sittingLedgerQuery = (id: number) => queryOptions({ queryKey: ['ledger', id], queryFn: () => get<LedgerRow[]>(`/api/ledger?sitting=${id}`) });
export const shelfQuery = queryOptions({ queryKey: ['shelf'], queryFn: () => get<ShelfItem[]>('/api/shelf') });
export const layoutsQuery = queryOptions({ queryKey: ['layouts'], queryFn: () => get<LayoutRow[]>('/api/layouts') });
export const layoutQuery = (id: string) => queryOptions({ queryKey: ['layouts', id], queryFn: () => get<Layout>(`/api/layouts/${encodeURIComponent(id)}`), staleTime: Infinity });
export const differencesQuery = (a: string, b: string) => queryOptions({ queryKey: ['differences', a, b], queryFn: () => get<DifferencesData>(`/api/compare?a=${encodeURIComponent(a)}&b=${encodeURIComponent(b)}`), retry: false, staleTime: Infinity });
export const operatorsQuery = queryOptions({ queryKey: ['operators'], queryFn: () => get<{ current: string | null; names: string[] }>('/api/operators') });
