/** Words for what the core names by identifiers. */
import type { Recovery } from '@/core/encoding';
import type { Mending } from '@/core/reading/track-sector';
import type { Difference } from '@/core/reading/analysis/compare';
import { say } from '@/messages';

export const MENDING_WORDS: Record<Mending, string> = {
  'another-pass': say.parts.byAnotherPass,
  joined: say.parts.fromTwoTurnsJoined,
  likelihood: say.parts.byLikelihood,
  voting: say.parts.byVotingOverTurns,
  trial: say.parts.byTrialOfDoubtful,
  'by-hand': say.parts.byASettingOf,
};

export const RECOVERY_WORDS: Record<Recovery, string> = {
  stepped: 'plain',
  loop: say.parts.clockFollowed,
  'loop-stiff': say.parts.clockFollowedStiffly,
  'loop-quick': say.parts.clockFollowedQuickly,
  'loop-shift': say.parts.peakShiftTakenOut,
  'loop-shift-strong': say.parts.strongPeakShiftTaken,
  likelihood: say.parts.byLikelihood,
  'by-hand': say.parts.setByHand,
  told: say.parts.asTheDriveTold,
};

export const DIFFERENCE_WORDS: Record<Difference, string> = {
  same: say.parts.theSame,
  differ: say.parts.soundInBothAnd,
  'first-only': say.parts.soundInTheFirst,
  'second-only': say.parts.soundInTheSecond,
  neither: say.parts.soundInNeither,
};
