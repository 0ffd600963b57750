/** Kinds of entries of the ledger by what they tell of: each stands in one group. */
import type { LedgerKind } from '@/server/states';

export const LEDGER_GROUPS = Object.freeze({
  media: [
    ...(['registered', 'described', 'lot', 'lender', 'machine', 'set', 'withdrawn'] as const),
    ...(['reinstated', 'merged', 'related', 'paper-added', 'paper-removed'] as const),
  ],
  stays: ['arrived', 'handed-back', 'sent-out', 'came-back'] as const,
  reading: [
    ...(['placed', 'removed', 'confirmed', 'sitting-started', 'sitting-preview'] as const),
    ...(['sitting-paused', 'sitting-resumed', 'sitting-held', 'sitting-stopped'] as const),
    ...(['track', 'blocks', 'head-dirty', 'cleaned', 'stack'] as const),
  ],
  kept: [
    ...(['fair-copy', 'taken-in', 'verdict', 'setting-kept', 'settling-hurried'] as const),
    ...(['scanned', 'fixity', 'elsewhere'] as const),
  ],
  leaving: [
    ...(['folder-opened', 'folder-closed'] as const),
    ...(['handed-out', 'permitted', 'parcel', 'extracted', 'transfer', 'memory-card'] as const),
  ],
  writing: [
    ...(['writeback-started', 'writeback-asked', 'writeback-ended'] as const),
    ...(['writeback-outcome', 'writeback-queued', 'device'] as const),
  ],
  rules: [
    ...(['layout-added', 'layout-removed', 'rule-added', 'rule-removed', 'self-test'] as const),
  ],
} satisfies Record<string, readonly LedgerKind[]>);
