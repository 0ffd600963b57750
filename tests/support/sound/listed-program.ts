/** Programs as the page has them. */
import type { ListedProgram, ListedRegion } from '@/ui/sounds/program-voices';

/** A zone over a few keys and all velocities, or as `over` says. */
export const listedRegion = (over: Partial<ListedRegion> = {}): ListedRegion => ({
  sample: 1,
  sampleName: 'HORN',
  lowKey: 40,
  highKey: 50,
  lowVelocity: 0,
  highVelocity: 127,
  cents: 0,
  loop: 'as-sample',
  loudness: 0,
  filterOffset: 0,
  pan: 0,
  ...over,
});

export const listedProgram = (...regions: ListedRegion[]): ListedProgram => ({
  path: 'A/FOG/MOLE',
  name: 'MOLE',
  position: 0,
  file: null,
  midiProgram: 0,
  regions,
  problems: [],
});
