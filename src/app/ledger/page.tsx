import { listLedger } from '@/server/features/ledger/entries';
import { ledgerQuery } from '@/ui/data/queries';
import { LedgerView } from '@/ui/ledger/ledger-view';
import { PrefetchBoundary } from '../prefetch-boundary';

export const dynamic = 'force-dynamic';

interface LedgerProps {
  searchParams: Promise<{ medium?: string | string[] }>;
}

/** All of it, or that of a medium. */
export default async function Ledger({ searchParams }: LedgerProps) {
  const { medium } = await searchParams;
  const asked = typeof medium === 'string' ? { medium: medium.slice(0, 100) } : {};
  return (
    <PrefetchBoundary
      answers={[{ key: ledgerQuery(asked).queryKey, fetch: (db) => listLedger(db, asked) }]}
    >
      <LedgerView asked={asked} />
    </PrefetchBoundary>
  );
}
