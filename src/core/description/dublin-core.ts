/**
 * A description as a record of simple Dublin Core (ISO 15836-1) in the container that harvesters
 * know (`oai_dc`, OAI-PMH 2.0): fifteen elements, any of them several times.
 */
import { xmlText } from '../text/xml-text';
import { ELEMENTS, termOf, type Elements } from './elements';

/** What two terms that simple Dublin Core has not say there. */
const SIMPLE: Readonly<Record<string, string>> = {
  'dcterms:alternative': 'dc:title',
  'dcterms:extent': 'dc:format',
};

const OPENING =
  '<?xml version="1.0" encoding="UTF-8"?>\n' +
  '<oai_dc:dc xmlns:oai_dc="http://www.openarchives.org/OAI/2.0/oai_dc/"\n' +
  '    xmlns:dc="http://purl.org/dc/elements/1.1/"\n' +
  '    xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance"\n' +
  '    xsi:schemaLocation="http://www.openarchives.org/OAI/2.0/oai_dc/ ' +
  'http://www.openarchives.org/OAI/2.0/oai_dc.xsd">\n';
const CLOSING = '</oai_dc:dc>\n';

export interface DescribedThing {
  title: string;
  /** Its own and what else it is called by. */
  identifiers: readonly string[];
  /** What it belongs to. */
  partOf: readonly string[];
  /** What it is as a thing. */
  formats: readonly string[];
  /** What stands on it. */
  sticker: string;
  /** What may be done with it: a URI, words. */
  rights: readonly string[];
  elements: Elements;
}

type Statement = readonly [element: string, text: string];

function statementsOf(thing: DescribedThing): Statement[] {
  const said = ELEMENTS.flatMap((element): Statement[] => {
    const term = termOf(element);
    return (thing.elements[element] ?? []).map((value) => [SIMPLE[term] ?? term, value]);
  });
  const all: Statement[] = [
    ['dc:title', thing.title],
    ...thing.identifiers.map((text): Statement => ['dc:identifier', text]),
    ...said,
    ['dc:description', thing.sticker],
    ...thing.formats.map((text): Statement => ['dc:format', text]),
    ...thing.partOf.map((text): Statement => ['dc:relation', text]),
    ...thing.rights.map((text): Statement => ['dc:rights', text]),
  ];
  return all.map(([element, text]) => [element, text.trim()]);
}

/** What says nothing, or says it twice, is left out. */
export function dublinCore(thing: DescribedThing): string {
  const lines = statementsOf(thing)
    .filter(([, text]) => text !== '')
    .map(([element, text]) => `  <${element}>${xmlText(text)}</${element}>\n`);
  return OPENING + [...new Set(lines)].join('') + CLOSING;
}
