/** What pages ask for, each declared once: its key and where it comes from. */
import { queryOptions } from '@tanstack/react-query';
import type { StoreRoom } from '@/server/platform/blobs/store-room';
import type { careView } from '@/server/features/second-store/care';
import type { Layout } from '@/core/layout/layout';
import type { SignatureRule } from '@/core/scan/rules';
import type { assemblyView, listAssemblies } from '@/server/features/assemblies/queries';
import type { listAlike } from '@/server/features/holdings/alike';
import type { Docket } from '@/server/features/holdings/medium-detail';
import type { Differences } from '@/server/features/copies/differences';
import type { LayoutView } from '@/server/features/layouts/layouts';
import type { LedgerLine, listLedger } from '@/server/features/ledger/entries';
import type { LedgerQuestion } from '@/server/features/ledger/questions';
import type { packingOf } from '@/server/features/copies/image-of-copy';
import type { listLines, listTransfers } from '@/server/features/transfers/transfers';
import type { listUploads } from '@/server/features/intake/uploads';
import type { listExtracts } from '@/server/features/extracts/extracts';
import type { Facet, HoldingsQuestion, searchHoldings } from '@/server/features/holdings/holdings';
import type {
  imageBytes,
  imageMap,
  imageStrings,
  findInImage,
} from '@/server/features/copies/image-bytes';
import type { ArrivalsQuestion, listArrivals } from '@/server/features/media/arrivals';
import type { listRecords } from '@/server/features/descriptions/record-lists';
import type { namedPage } from '@/server/features/descriptions/named-pages';
import type { recordPage } from '@/server/features/descriptions/record-pages';
import type { sideBySide } from '@/server/features/holdings/side-by-side';
import type { NextCode } from '@/server/features/media/codes';
import type { previewCorrections } from '@/server/features/media/corrections';
import type { listFacts } from '@/server/features/media/fact-list';
import type { listToComplete, ToCompleteQuestion } from '@/server/features/media/to-complete';
import type { heldSounds, SoundsQuestion } from '@/server/features/sounds/held-sounds';
import type { hearingOf } from '@/server/features/sounds/raw-hearings';
import type { soundsOfCopy } from '@/server/features/sounds/queries';
import type { blankStock } from '@/server/features/assemblies/blanks';
import type { listCards } from '@/server/features/memory-cards/memory-cards';
import type { checkWriteback } from '@/server/features/writebacks/writeback-check';
import type { listQueue } from '@/server/features/writebacks/writeback-queue';
import type { WritebackView } from '@/server/features/writebacks/queries';
import type { SittingView } from '@/server/features/sittings/queries';
import type { StationView } from '@/server/features/stations/stations';
import type { ShelfItem } from '@/benchlink/messages';
import type { z } from 'zod';
import { get, post } from './api';

/** Dates arrive as text. */
export type Serialized<T> = T extends Date
  ? string
  : T extends readonly [unknown, ...unknown[]]
    ? { [K in keyof T]: Serialized<T[K]> }
    : T extends (infer U)[]
      ? Serialized<U>[]
      : T extends object
        ? { [K in keyof T]: Serialized<T[K]> }
        : T;
export type Result<F extends (...args: never[]) => Promise<unknown>> = Serialized<
  Awaited<ReturnType<F>>
>;

export type Station = Serialized<StationView>;
export type Sitting = Serialized<SittingView>;
export type Arrivals = Result<typeof listArrivals>;
type Alike = Result<typeof listAlike>;
export type ToComplete = Result<typeof listToComplete>;
export type Holdings = Result<typeof searchHoldings>;
export type SideBySide = Result<typeof sideBySide>;
export type MediaFacts = Result<typeof listFacts>;
export type CorrectionsShown = Result<typeof previewCorrections>;
export type Sounds = Result<typeof soundsOfCopy>;
export type Hearing = Result<typeof hearingOf>;
export type HeldSounds = Result<typeof heldSounds>;
export type ImageBytes = Result<typeof imageBytes>;
export type ExtractRow = Result<typeof listExtracts>[number];
export type AssemblyData = Result<typeof assemblyView>;
export type DocketData = Serialized<Docket>;
export type WritebackRow = Serialized<WritebackView>;
type LayoutRow = Serialized<LayoutView>;
export type DifferencesData = Serialized<Differences>;
export type Ledger = Result<typeof listLedger>;
type LedgerRow = Serialized<LedgerLine>;

export const stationsQuery = queryOptions({
  queryKey: ['stations'],
  queryFn: () => get<Station[]>('/api/stations'),
});
/** Room on the disk that holds everything: asked once a minute, for nothing tells of it. */
export const storeQuery = queryOptions({
  queryKey: ['store'],
  queryFn: () => get<StoreRoom>('/api/store'),
  refetchInterval: 60_000,
});
/** What is asked of Arrivals, as it stands in an address. */
export type ArrivalsAsked = {
  [K in keyof ArrivalsQuestion]?: ArrivalsQuestion[K] extends boolean
    ? '0' | '1'
    : ArrivalsQuestion[K];
};
export const FIRST_ARRIVALS: ArrivalsAsked = { q: '' };
export const inAddress = (asked: object) =>
  new URLSearchParams(
    Object.entries(asked).flatMap(([key, value]) =>
      value === undefined || value === '' ? [] : [[key, String(value)]],
    ),
  );
export const arrivalsQuery = (asked: ArrivalsAsked) =>
  queryOptions({
    queryKey: ['media', 'arrivals', asked],
    queryFn: () => get<Arrivals>(`/api/media?${inAddress(asked)}`),
  });
/** What is asked of the holdings: words, and one value of each facet that is chosen. */
export type Asked = Pick<HoldingsQuestion, 'q'> &
  Partial<Record<Facet, string>> & { more?: number };
export const holdingsQuery = (asked: Asked) =>
  queryOptions({
    queryKey: ['media', 'holdings', asked],
    queryFn: () =>
      get<Holdings>(
        `/api/holdings?${new URLSearchParams(Object.entries(asked).map(([key, value]) => [key, String(value)]))}`,
      ),
  });
export const sideBySideQuery = (a: string, b: string) =>
  queryOptions({
    queryKey: ['media', 'side-by-side', a, b],
    queryFn: () => get<SideBySide>(`/api/alike/${encodeURIComponent(a)}/${encodeURIComponent(b)}`),
    retry: false,
  });
export const extractsQuery = queryOptions({
  queryKey: ['extracts'],
  queryFn: () => get<ExtractRow[]>('/api/extracts'),
});
/** While a check that was asked for goes on. */
const CHECK_MS = 1500;
export type FixityState = Result<typeof careView>;
export const fixityQuery = queryOptions({
  queryKey: ['fixity'],
  queryFn: () => get<FixityState>('/api/fixity'),
  // Only news are told: how far a check has come is asked for.
  refetchInterval: ({ state }) => (state.data && state.data.due > 0 ? CHECK_MS : false),
});
export const uploadsQuery = queryOptions({
  queryKey: ['uploads'],
  queryFn: () => get<Result<typeof listUploads>>('/api/uploads'),
});
export const packingQuery = (copies: readonly number[]) =>
  queryOptions({
    queryKey: ['packing', copies.join()],
    queryFn: () => post<Result<typeof packingOf>>('/api/packing', { copies }),
    staleTime: Infinity,
    retry: false,
  });
export type Records = Result<typeof listRecords>;
/** Lots and sets that answer to these words. */
export const recordsQuery = (q: string) =>
  queryOptions({
    queryKey: ['media', 'records', q],
    queryFn: () => get<Records>(`/api/records?${inAddress({ q })}`),
  });
export type RecordPage = Result<typeof recordPage>;
/** A lot or a set by its name. */
export const recordQuery = (kind: RecordPage['kind'], name: string) =>
  queryOptions({
    queryKey: ['media', 'record', kind, name],
    queryFn: () => get<RecordPage>(`/api/records/${kind}/${encodeURIComponent(name)}`),
    retry: false,
  });
/** The code that a medium of a lot gets where none is typed. */
export const nextCodeQuery = (lot: string) =>
  queryOptions({
    queryKey: ['media', 'next-code', lot],
    queryFn: () => get<NextCode>(`/api/codes?${inAddress({ lot })}`),
  });
export type NamedPage = Result<typeof namedPage>;
/** A lender or a machine by its name. */
export const namedQuery = (kind: NamedPage['kind'], name: string) =>
  queryOptions({
    queryKey: ['media', 'named', kind, name],
    queryFn: () => get<NamedPage>(`/api/named/${kind}/${encodeURIComponent(name)}`),
    retry: false,
  });
/** What is registered of media that answer to these words. */
export const mediaFactsQuery = (q: string) =>
  queryOptions({
    queryKey: ['media', 'facts', q],
    queryFn: () => get<MediaFacts>(`/api/media-facts?${inAddress({ q })}`),
  });
/** What is asked of all sounds, as it stands in an address. */
export type SoundsAsked = {
  [K in keyof SoundsQuestion]?:
    (K extends 'more' ? number : K extends 'twice' ? 'yes' : string) | undefined;
};
export const heldSoundsQuery = (asked: SoundsAsked) =>
  queryOptions({
    queryKey: ['media', 'sounds', asked],
    queryFn: () => get<HeldSounds>(`/api/sounds?${inAddress(asked)}`),
  });
/** A file by its row, or a stretch of an image, as it stands in an address. */
export type HearingAsked = { file: string } | { from: string; length: string };
export const hearingQuery = (id: number, asked: HearingAsked) =>
  queryOptions({
    queryKey: ['image', id, 'hearing', asked],
    queryFn: () => get<Hearing>(`/api/copies/${id}/hearing?${inAddress(asked)}`),
    retry: false,
  });
export const soundsQuery = (id: number) =>
  queryOptions({
    queryKey: ['image', id, 'sounds'],
    queryFn: () => get<Sounds>(`/api/copies/${id}/sounds`),
    staleTime: Infinity,
  });
export const imageMapQuery = (id: number) =>
  queryOptions({
    queryKey: ['image', id, 'map'],
    queryFn: () => get<Result<typeof imageMap>>(`/api/copies/${id}/map`),
    staleTime: Infinity,
  });
export const imageBytesQuery = (id: number, from: number, length: number) =>
  queryOptions({
    queryKey: ['image', id, 'bytes', from, length],
    queryFn: () => get<ImageBytes>(`/api/copies/${id}/bytes?from=${from}&length=${length}`),
    staleTime: Infinity,
  });
export const imageStringsQuery = (id: number, from: number, least: number) =>
  queryOptions({
    queryKey: ['image', id, 'strings', from, least],
    queryFn: () =>
      get<Result<typeof imageStrings>>(`/api/copies/${id}/strings?from=${from}&least=${least}`),
    staleTime: Infinity,
  });
export const findQuery = (id: number, pattern: string) =>
  queryOptions({
    queryKey: ['image', id, 'find', pattern],
    queryFn: () =>
      get<Result<typeof findInImage>>(
        `/api/copies/${id}/find?pattern=${encodeURIComponent(pattern)}`,
      ),
    staleTime: Infinity,
    retry: false,
  });
export const docketQuery = (code: string) =>
  queryOptions({
    queryKey: ['media', 'docket', code],
    queryFn: () => get<DocketData>(`/api/docket/${encodeURIComponent(code)}`),
  });
export const sittingQuery = (id: number) =>
  queryOptions({ queryKey: ['sitting', id], queryFn: () => get<Sitting>(`/api/sittings/${id}`) });
export const alikeQuery = queryOptions({
  queryKey: ['media', 'alike'],
  queryFn: () => get<Alike>('/api/alike'),
});
export const rulesQuery = queryOptions({
  queryKey: ['rules'],
  queryFn: () => get<SignatureRule[]>('/api/rules'),
});
export const toCompleteQuery = (asked: z.input<typeof ToCompleteQuestion>) =>
  queryOptions({
    queryKey: ['media', 'to-complete', asked],
    queryFn: () => get<ToComplete>(`/api/to-complete?${inAddress(asked)}`),
  });
export const writebacksQuery = queryOptions({
  queryKey: ['writebacks', 'all'],
  queryFn: () => get<WritebackRow[]>('/api/writebacks'),
});
export const queueQuery = queryOptions({
  queryKey: ['writebacks', 'queue'],
  queryFn: () =>
    get<{ waiting: Result<typeof listQueue>; stock: Result<typeof blankStock> }>(
      '/api/writebacks/queue',
    ),
});
export const checkQuery = (copy: number, station: number, machine: string) =>
  queryOptions({
    queryKey: ['writebacks', 'check', copy, station, machine],
    queryFn: () =>
      get<Result<typeof checkWriteback>>(
        '/api/writebacks/check?' +
          `${new URLSearchParams({ copy: String(copy), station: String(station), ...(machine && { machine }) })}`,
      ),
  });
export const cardsQuery = queryOptions({
  queryKey: ['assemblies', 'cards'],
  queryFn: () => get<Result<typeof listCards>>('/api/memory-cards'),
});
export type TransferRow = Result<typeof listTransfers>[number];
export const transfersQuery = queryOptions({
  queryKey: ['transfers', 'all'],
  queryFn: () =>
    get<{ transfers: Result<typeof listTransfers>; lines: Result<typeof listLines> }>(
      '/api/transfers',
    ),
});
export const assembliesQuery = queryOptions({
  queryKey: ['assemblies', 'all'],
  queryFn: () => get<Result<typeof listAssemblies>>('/api/assemblies'),
});
export const assemblyQuery = (id: number) =>
  queryOptions({
    queryKey: ['assemblies', id],
    queryFn: () => get<AssemblyData>(`/api/assemblies/${id}`),
    retry: false,
  });
/** What is asked of the ledger, as it stands in an address; empty is not asked. */
export type LedgerAsked = Partial<LedgerQuestion>;
export const ledgerQuery = (asked: LedgerAsked) =>
  queryOptions({
    queryKey: ['ledger', 'all', asked],
    queryFn: () => get<Ledger>(`/api/ledger?${inAddress(asked)}`),
  });
export const sittingLedgerQuery = (id: number) =>
  queryOptions({
    queryKey: ['ledger', id],
    queryFn: () => get<LedgerRow[]>(`/api/ledger?sitting=${id}`),
  });
export const shelfQuery = queryOptions({
  queryKey: ['shelf'],
  queryFn: () => get<ShelfItem[]>('/api/shelf'),
});
export const layoutsQuery = queryOptions({
  queryKey: ['layouts'],
  queryFn: () => get<LayoutRow[]>('/api/layouts'),
});
export const layoutQuery = (id: string) =>
  queryOptions({
    queryKey: ['layouts', id],
    queryFn: () => get<Layout>(`/api/layouts/${encodeURIComponent(id)}`),
    staleTime: Infinity,
  });
export const differencesQuery = (a: string, b: string) =>
  queryOptions({
    queryKey: ['differences', a, b],
    queryFn: () =>
      get<DifferencesData>(`/api/compare?a=${encodeURIComponent(a)}&b=${encodeURIComponent(b)}`),
    retry: false,
    staleTime: Infinity,
  });
export const operatorsQuery = queryOptions({
  queryKey: ['operators'],
  queryFn: () =>
    get<{ current: string | null; recipient: string; names: string[] }>('/api/operators'),
});
/** To whom who is at work may hand out a medium that is held, for now. */
export const permitQuery = (code: string) =>
  queryOptions({
    queryKey: ['media', 'permit', code],
    queryFn: () => get<{ recipient: string | null }>(`/api/permits/${encodeURIComponent(code)}`),
  });
