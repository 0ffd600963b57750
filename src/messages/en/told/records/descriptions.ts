/** What is said where media, sets and lots are described. */
import { elements } from '../names/elements';

interface AcquiredAs {
  from: string;
  on: string;
  how: string;
  notes: string;
  /** What the paper is called; empty where there is none. */
  agreement: string;
}

export const descriptions = {
  described: ({ name, changes }: { name: string; changes: string[] }) =>
    `${name} described: ${changes.join('; ')}.`,
  elementWasNow: (change: { element: keyof typeof elements; was: string; now: string }) =>
    `${elements[change.element] ?? change.element}: ${change.now} (was ${change.was})`,
  acquisitionWasNow: ({ was, now }: { was: string; now: string }) => `acquired ${now} (was ${was})`,
  acquiredAs: ({ from, on, how, notes, agreement }: AcquiredAs) =>
    `${how}${from && ` from ${from}`}${on && `, ${on}`}${notes && `, “${notes}”`}` +
    (agreement && `, agreement ${agreement}`),
  noPaperOfIt: 'That paper does not lie beside it: choose one that does, or lay it there first.',
};
