/** What is said where media, sets and lots are described. */
import { elements } from '../names/elements';

interface AcquiredAs {
  from: string;
  on: string;
  how: string;
  notes: string;
  hasAgreement: boolean;
}

export const descriptions = {
  described: ({ name, changes }: { name: string; changes: string[] }) =>
    `${name} described: ${changes.join('; ')}.`,
  elementWasNow: (change: { element: keyof typeof elements; was: string; now: string }) =>
    `${elements[change.element] ?? change.element}: ${change.now} (was ${change.was})`,
  acquisitionWasNow: ({ was, now }: { was: string; now: string }) => `acquired ${now} (was ${was})`,
  acquiredAs: ({ from, on, how, notes, hasAgreement }: AcquiredAs) =>
    `${how}${from && ` from ${from}`}${on && `, ${on}`}${notes && `, “${notes}”`}` +
    (hasAgreement ? ', with an agreement' : ''),
  noPaperOfIt: 'That paper does not lie beside it: choose one that does, or lay it there first.',
};
