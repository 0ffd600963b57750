/**
 * What is said of a medium counts before what is said of its set, and that before what is said of
 * its lot: each element that parts have of a whole, and how it was acquired, as a whole from the nearest that says it.
 */
import { ELEMENTS, isInherited, type ElementName, type Elements } from './elements';

/** From the nearest on. */
export const LEVELS = Object.freeze(['medium', 'set', 'lot'] as const);
export type Level = (typeof LEVELS)[number];

export interface Described<A> {
  elements: Elements;
  /** How it was acquired; null where that is not said. */
  acquisition: A | null;
}

interface InheritedElement {
  element: ElementName;
  values: string[];
  from: Level;
}

interface Inherited<A> {
  elements: InheritedElement[];
  acquisition: { value: A; from: Level } | null;
}

/** In the order of the elements; `self` is the level that is asked about. */
export function inherited<A>(
  own: Partial<Record<Level, Described<A>>>,
  self: Level = 'medium',
): Inherited<A> {
  const saying = LEVELS.flatMap((from) => (own[from] ? [{ from, said: own[from] }] : []));
  const elements = ELEMENTS.flatMap((element) => {
    const nearest = saying.find(
      ({ from, said }) => said.elements[element] && (from === self || isInherited(element)),
    );
    return nearest
      ? [{ element, values: nearest.said.elements[element]!, from: nearest.from }]
      : [];
  });
  const acquired = saying.find(({ said }) => said.acquisition !== null);
  return {
    elements,
    acquisition: acquired ? { value: acquired.said.acquisition!, from: acquired.from } : null,
  };
}
