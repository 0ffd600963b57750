/**
 * Cards: names within a device's limits and never twice, templates, lists, and what changed of a
 * card that came back.
 */
import fc from 'fast-check';
import {
  CARD_PROFILES,
  cardNames,
  compareCard,
  contentsList,
  fillTemplate,
  unknownFields,
  type CardEntry,
} from './memory-card';

const profile = (id: string) => CARD_PROFILES.find((each) => each.id === id)!;
const images = ['Tide tables, north mole, 1984–86', 'Überfahrten', ''].map((title, i) => ({
  code: `SKP-010${i}`,
  title,
  ending: 'img',
}));

test('numbered names as the device can show them', () => {
  expect(cardNames(profile('short'), images).map(({ path }) => path)).toEqual([
    '001TIDET.IMG',
    '002UBERF.IMG',
    '003.IMG',
  ]);
  expect(cardNames(profile('long'), images).map(({ path }) => path)).toEqual([
    '001 Tide tables north mole 1984-86.img',
    '002 Uberfahrten.img',
    '003.img',
  ]);
  expect(
    cardNames(
      profile('short-hundreds'),
      Array.from({ length: 101 }, () => images[1]!),
    ).at(-1),
  ).toEqual({ number: 101, path: '01/101UBERF.IMG' });
});

test('whatever they are called, every name fits and none stands twice', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...CARD_PROFILES),
      fc.array(
        fc.record({
          code: fc.string(),
          title: fc.string({ unit: 'grapheme' }),
          ending: fc.constantFrom('img', 'd64'),
        }),
        { maxLength: 120 },
      ),
      (each, list) => {
        const names = cardNames(each, list).map(({ path }) => path);
        expect(new Set(names.map((path) => path.toLowerCase())).size).toBe(list.length);
        for (const path of names) {
          const stem = path
            .split('/')
            .pop()!
            .replace(/\.[A-Za-z0-9]+$/, '');
          expect(stem.length).toBeLessThanOrEqual(each.mostName);
          expect([...stem].every((char) => each.allowed.test(char))).toBe(true);
        }
      },
    ),
  );
});

const entries: CardEntry[] = [
  { number: 1, path: 'A.IMG', code: 'SKP-0100', title: 'Tides {image.code}', bytes: 10 },
  { number: 2, path: '01/B.IMG', code: 'SKP-0101', title: 'Fog', bytes: 20 },
];

test('a template: a line of an image for each of them; what is filled in is not filled again', () => {
  expect(
    fillTemplate(
      '[{card.title}]\nslots={card.count}\nslot{image.number}={image.path}\n; {image.title} ({image.name})\nend {other}',
      'My card',
      entries,
    ),
  ).toBe(
    '[My card]\nslots=2\nslot1=A.IMG\nslot2=01/B.IMG\n; Tides {image.code} (A.IMG)\n; Fog (B.IMG)\nend {other}',
  );
  expect(unknownFields('{image.path} {image.colour} {card.count} {else}')).toEqual([
    'image.colour',
  ]);
  expect(contentsList('My card', entries).split('\r\n')[3]).toBe(
    '   2  01/B.IMG  SKP-0101           20  Fog',
  );
});

test('a card that came back', () => {
  const made = [
    { path: 'A.IMG', bytes: 1, sha256: 'a' },
    { path: 'B.IMG', bytes: 1, sha256: 'b' },
    { path: 'C.IMG', bytes: 1, sha256: 'c' },
  ];
  expect(
    compareCard(made, [
      { path: 'a.img', bytes: 1, sha256: 'a' },
      { path: 'B.IMG', bytes: 2, sha256: 'x' },
      { path: 'NEW.IMG', bytes: 3, sha256: 'n' },
    ]).map(({ path, change }) => [path, change]),
  ).toEqual([
    ['A.IMG', 'same'],
    ['B.IMG', 'changed'],
    ['C.IMG', 'missing'],
    ['NEW.IMG', 'new'],
  ]);
});
