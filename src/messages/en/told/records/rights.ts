/** What is said of what may be done with media, and of what leaves the house. */
import { grouped } from '@/core/text/grouped';

interface Until {
  reason: string;
  /** Empty where nobody said a day. */
  opensOn: string;
}

interface HoldSaid extends Until {
  from: 'medium' | 'set' | 'lot' | 'source';
  name: string;
  isPersonal: boolean;
}

const FACTS = { statement: 'statement', words: 'in words' } as const;
const WHOSE = {
  medium: () => '',
  set: (name: string) => ` (said of its set, ${name})`,
  lot: (name: string) => ` (said of its lot, ${name})`,
  source: (name: string) => ` (its image was made from ${name})`,
} as const;

const untilSaid = ({ reason, opensOn }: Until): string =>
  `${opensOn ? `until it opens on ${opensOn}` : 'until somebody opens it'}: ${reason}`;

interface HandedOut {
  name: string;
  /** Null where it was not known before it was sent. */
  bytes: number | null;
  sha256: string;
  recipient: string;
}

export const rights = {
  changed: ({ name, changes }: { name: string; changes: string[] }) =>
    `Rights of ${name}: ${changes.join('; ')}.`,
  factWasNow: ({ fact, was, now }: { fact: keyof typeof FACTS; was: string; now: string }) =>
    `${FACTS[fact] ?? fact} ${now} (was ${was})`,
  restrictionWasNow: ({ was, now }: { was: string; now: string }) => `${now} (was ${was})`,
  personalNow: ({ isPersonal }: { isPersonal: boolean }): string =>
    isPersonal ? 'holds what is personal' : 'holds nothing personal',
  restricted: (until: Until) => `restricted ${untilSaid(until)}`,
  open: 'not restricted',
  hold: ({ from, name, isPersonal, ...until }: HoldSaid) =>
    (isPersonal ? 'it holds what is personal' : `it is restricted ${untilSaid(until)}`) +
    (WHOSE[from]?.(name) ?? ''),
  isHeld: ({ codes, all, holds }: { codes: string[]; all: number; holds: string[] }) =>
    `${codes.join(', ')}${all > codes.length ? ` and ${all - codes.length} more` : ''} can't leave ` +
    `the house: ${holds.join('; ')}. Nothing was handed out. Whoever may do so says to whom and ` +
    'why in the docket first.',
  permitted: (said: { code: string; recipient: string; reason: string; minutes: number }) =>
    `${said.code} may leave for ${said.minutes} minutes although it is held: to ` +
    `${said.recipient}, ${said.reason}.`,
  handedOut: ({ name, bytes, sha256, recipient }: HandedOut) =>
    `${name} handed out${recipient && ` to ${recipient}`}` +
    `${bytes === null ? '' : `, ${grouped(bytes)} bytes`}${sha256 && `, SHA-256 ${sha256}`}.`,
};
