/** Words for what the core names by identifiers. */
import type { Recovery } from '@/core/encoding';
import type { Mending } from '@/core/reading/track-sector';
import type { Difference } from '@/core/reading/analysis/compare';

export const MENDING_WORDS: Record<Mending, string> = {
  'another-pass': 'by another pass',
  joined: 'from two turns joined',
  likelihood: 'by likelihood',
  voting: 'by voting over turns',
  trial: 'by trial of doubtful bits',
  'by-hand': "by a setting of a person's own",
};

export const RECOVERY_WORDS: Record<Recovery, string> = {
  stepped: 'plain',
  loop: 'clock followed',
  'loop-stiff': 'clock followed stiffly',
  'loop-quick': 'clock followed quickly',
  'loop-shift': 'peak shift taken out',
  'loop-shift-strong': 'strong peak shift taken out',
  likelihood: 'by likelihood',
  'by-hand': 'set by hand',
  told: 'as the drive told it',
};

export const DIFFERENCE_WORDS: Record<Difference, string> = {
  same: 'the same',
  differ: 'sound in both and different',
  'first-only': 'sound in the first only',
  'second-only': 'sound in the second only',
  neither: 'sound in neither',
};
