/** A description as it is typed, a text an element, and what of it was changed. */
import type { z } from 'zod';
import type { Acquisition } from '@/core/description/acquisition';
import { ELEMENTS, type ElementName, type Elements } from '@/core/description/elements';
import type { DescriptionChange } from '@/server/features/descriptions/new-description';

/** Of these all that is typed is one value, with its lines; of the others each line is one. */
const PROSE: readonly ElementName[] = ['description', 'notes'];
export const isProse = (element: ElementName): boolean => PROSE.includes(element);

const typedAs = (element: ElementName, values: readonly string[] = []): string =>
  values.join(isProse(element) ? '\n\n' : '\n');

function valuesIn(element: ElementName, text: string): string[] {
  const typed = text.replaceAll('\r\n', '\n');
  const values = isProse(element) ? [typed] : typed.split('\n');
  return values.map((value) => value.trim()).filter((value) => value !== '');
}

export interface TypedDescription {
  elements: Record<ElementName, string>;
  /** Whether this one says how it was acquired, and not its set or its lot. */
  saysHow: boolean;
  acquisition: Acquisition;
}

const NOT_SAID: Acquisition = { from: '', on: '', how: 'not-said', notes: '', agreement: null };

interface Own {
  elements: Elements;
  acquisition: Acquisition | null;
}

export const typedFrom = ({ elements, acquisition }: Own): TypedDescription => ({
  elements: Object.fromEntries(
    ELEMENTS.map((element) => [element, typedAs(element, elements[element])]),
  ) as TypedDescription['elements'],
  saysHow: acquisition !== null,
  acquisition: acquisition ?? NOT_SAID,
});

/** What differs from what is said; two people who change different elements undo nothing. */
export function changeOf(own: Own, typed: TypedDescription): z.input<typeof DescriptionChange> {
  const was = typedFrom(own);
  const changed = ELEMENTS.filter(
    (element) => typed.elements[element].trim() !== was.elements[element].trim(),
  );
  const acquisition = typed.saysHow ? typed.acquisition : null;
  return {
    ...(changed.length > 0 && {
      elements: Object.fromEntries(
        changed.map((element) => [element, valuesIn(element, typed.elements[element])]),
      ),
    }),
    ...(isOther(own.acquisition, acquisition) && { acquisition }),
  };
}

const FACTS = ['from', 'on', 'how', 'notes', 'agreement'] as const;
function isOther(was: Acquisition | null, now: Acquisition | null): boolean {
  if (was === null || now === null) return was !== now;
  return FACTS.some((fact) => was[fact] !== now[fact]);
}
