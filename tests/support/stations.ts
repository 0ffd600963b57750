/** Stations as the application's route answers them, for component tests. */
import type { Station } from '@/ui/data/queries';

const FLUX_DRIVE = { cylinders: 80, heads: 2, rpm: 300, delivers: 'flux', writes: true } as const;

/** A station that has nothing in it and does nothing. */
export const station = (more: Partial<Station> = {}): Station =>
  ({
    id: 3,
    form: '3.5',
    drive: 'C',
    model: 'flux drive',
    serial: '0003',
    mediumId: null,
    abilities: FLUX_DRIVE,
    medium: null,
    cleaningDue: null,
    nextWriteback: null,
    stack: null,
    test: null,
    sitting: null,
    writeback: null,
    extents: [],
    tracks: [],
    ...more,
  }) as unknown as Station;

export const mediumIn = (
  more: Partial<NonNullable<Station['medium']>> = {},
): Station['medium'] => ({
  id: 7,
  code: 'TST-0007',
  title: 'Dues',
  labelText: '',
  lender: '',
  lot: '',
  condition: '',
  isBlank: false,
  isReference: false,
  ...more,
});

export const sittingAt = (state: NonNullable<Station['sitting']>['state']): Station['sitting'] => ({
  id: 11,
  state,
  now: 'Reading.',
  blocks: null,
  cylinders: 80,
  stepping: 1,
});
