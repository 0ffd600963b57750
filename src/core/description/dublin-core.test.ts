/** @jest-environment jsdom */
/** The record against the standard: read by a parser that is not ours, whatever is said. */
import fc from 'fast-check';
import { dublinCore, type DescribedThing } from './dublin-core';
import { ELEMENTS } from './elements';

const DC = 'http://purl.org/dc/elements/1.1/';
const FIFTEEN =
  'title creator subject description publisher contributor date type format identifier source ' +
  'language relation coverage rights';

const THING: DescribedThing = {
  title: 'Lamp rota, 1988',
  identifiers: ['SKP-0103'],
  partOf: ['Fog signal logs'],
  formats: ['3½-inch'],
  sticker: '“ROTA”',
  rights: [],
  elements: {},
};

/** Every statement, as the parser has it. */
function statements(xml: string): [string, string][] {
  const { documentElement } = new DOMParser().parseFromString(xml, 'application/xml');
  expect(documentElement.localName).toBe('dc');
  expect(documentElement.namespaceURI).toBe('http://www.openarchives.org/OAI/2.0/oai_dc/');
  return [...documentElement.children].map((child) => {
    expect(child.namespaceURI).toBe(DC);
    return [child.localName, child.textContent!];
  });
}

test('what is registered and said stands in its elements, terms that it has not in the nearest', () => {
  const elements = {
    alternative: ['The rota'],
    extent: ['1 disk'],
    creator: ['A. Rook', 'B. Jay'],
  };
  expect(statements(dublinCore({ ...THING, elements }))).toEqual([
    ['title', 'Lamp rota, 1988'],
    ['identifier', 'SKP-0103'],
    ['title', 'The rota'],
    ['creator', 'A. Rook'],
    ['creator', 'B. Jay'],
    ['format', '1 disk'],
    ['description', '“ROTA”'],
    ['format', '3½-inch'],
    ['relation', 'Fog signal logs'],
  ]);
});

test('what is empty or stands there already is not said', () => {
  const elements = { alternative: ['Lamp rota, 1988', ' '], description: ['“ROTA”'] };
  const said = statements(dublinCore({ ...THING, elements, partOf: ['', ''] }));
  expect(said.filter(([name]) => ['title', 'description', 'relation'].includes(name))).toEqual([
    ['title', 'Lamp rota, 1988'],
    ['description', '“ROTA”'],
  ]);
});

/** As XML 1.0 can hold it. */
const expected = (text: string) =>
  text
    .trim()
    .toWellFormed()
    .replace(/[\0-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]/g, '\ufffd');

test('whatever is said, it is well-formed, of the fifteen elements, and says the same', () => {
  const text = fc.string({
    unit: fc.oneof(fc.constantFrom(...'<&>"\r\n]\0\x1b\ufffe\ud800'), fc.string()),
  });
  fc.assert(
    fc.property(
      text,
      fc.dictionary(fc.constantFrom(...ELEMENTS), fc.array(text)),
      (title, elements) => {
        const said = statements(dublinCore({ ...THING, title: `T${title}`, elements }));
        const names = FIFTEEN.split(' ');
        for (const [name, value] of said) {
          expect(names).toContain(name);
          expect(value).not.toBe('');
        }
        const values = new Set(said.map(([, value]) => value));
        for (const each of [`T${title}`, ...Object.values(elements).flat()])
          if (each.trim() !== '') expect(values).toContain(expected(each));
      },
    ),
    { numRuns: 60 },
  );
});

test('what may be done with it stands as rights, the URI and the words apart', () => {
  const rights = ['http://rightsstatements.org/vocab/InC/1.0/', 'ask the <family>'];
  const said = statements(dublinCore({ ...THING, rights })).filter(([name]) => name === 'rights');
  expect(said).toEqual(rights.map((text) => ['rights', text]));
});
