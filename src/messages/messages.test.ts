/** What is said is told, whatever it is made of. */
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { asWritten, eachOnce, said } from '@/core/said';
import { say, told } from '.';
import { tell, toldProblem } from './tell';

test('a code with parameters, with codes and lists of codes among them', () => {
  expect(tell(said('plan.comingFromTheInside'))).toBe('coming from the inside');
  expect(tell(said('volume.ofName', { name: 'A.TXT', what: said('assemblies.itIsDamaged') }))).toBe(
    'A.TXT: it is damaged',
  );
  expect(
    tell(
      said('layout.describes', {
        forms: [said('forms.3.5'), '5¼'],
        cylinders: 80,
        heads: 1,
        formats: [said('encodings.mfm')],
      }),
    ),
  ).toBe('3½-inch or 5¼, 80 cylinders, 1 head, MFM');
});

test('words that are kept stay as they are, whatever stands in them', () => {
  fc.assert(
    fc.property(fc.string(), (text) => {
      expect([tell(text), tell(asWritten(text))]).toEqual([text, text]);
    }),
  );
});

test('a code that this version does not know is told as itself, and no name of an object is one', () => {
  for (const code of ['later.thing', 'plan.constructor', '__proto__.toString', 'plan', '.', ''])
    expect(tell({ code })).toBe(code);
});

test('a row whose parameters are not those of its sentence any more is told as its code', () => {
  expect(tell({ code: 'block.readingFromBlock' })).toBe('block.readingFromBlock');
  expect(tell({ code: 'layout.describes', with: { forms: 3 } })).toBe('layout.describes');
});

test('a list may hold numbers, words and what is said', () => {
  const place = said('sittings.cylinderHead', { cylinder: 5, head: 1 });
  expect(tell(said('sittings.notReadWithA', { place, failed: [3, 7] }))).toBe(
    'Cylinder 5, head 1: sectors 3, 7 not read with a right check.',
  );
  // As it was kept before numbers could be: in words.
  expect(tell(said('sittings.notReadWithA', { place, failed: 'sector 3' }))).toBe(
    'Cylinder 5, head 1: sector 3 not read with a right check.',
  );
});

test('no row takes a page down, whatever its parameters are', () => {
  for (const value of [[null], [{}], [[1]], { code: 7 }, { code: null }])
    expect(tell({ code: 'sittings.notReadWithA', with: { place: value } as never })).toBe(
      'sittings.notReadWithA',
    );
});

test('a problem leaves with its sentence', () => {
  expect(toldProblem({ kind: 'loop', said: asWritten('It goes round.'), offset: 512 })).toEqual({
    kind: 'loop',
    message: 'It goes round.',
    offset: 512,
  });
});

test('what is said twice is said once', () => {
  const list = [said('forms.8'), said('forms.3.5'), said('forms.8')];
  expect(eachOnce(list)).toEqual([said('forms.8'), said('forms.3.5')]);
});

/** A parameter as any sentence may ask for it: a number, a text and a list in one. */
const ANY = Object.assign([], { [Symbol.toPrimitive]: () => 7, charAt: () => '7' });

test.each(Object.entries(told))('every sentence of %s has words', (area, sentences) => {
  for (const [key, sentence] of Object.entries(sentences as Record<string, unknown>)) {
    const made =
      typeof sentence === 'function'
        ? (sentence(new Proxy({}, { get: () => ANY })) as string)
        : (sentence as string);
    expect({ code: `${area}.${key}`, made }).toMatchObject({ made: expect.stringMatching(/\S/) });
    expect(made).not.toMatch(/undefined|\[object/);
  }
});

/** Everything that may say something, as one text. */
function sources(): string {
  const root = join(__dirname, '..');
  const files = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter(
    (path) => /(?<!\.test)\.tsx?$/.test(path) && !path.startsWith('messages'),
  );
  return files.map((path) => readFileSync(join(root, path), 'utf8')).join('\n');
}

/** Said by an identifier, which the code is made of. */
const BY_NAME = [
  'acquired',
  'blanks',
  'elements',
  'encodings',
  'forms',
  'grades',
  'held',
  'lacks',
  'marks',
  'sides',
  'sittingStates',
  'targets',
];

/** Of a record's field, by its key in the layout; of records in a row, by what each is. */
const IN_LAYOUTS: Readonly<Record<string, (key: string) => string>> = {
  fields: (key) => ` ${key}: `,
  records: (key) => `each: '${key}'`,
};

/** Entries of the ledger say them that were written before corrections told what it was. */
const OF_OLDER_ENTRIES = new Set([
  ...['media.described', 'media.noMarks', 'media.notToBeRead', 'media.mayBeRead'],
  ...['media.writeProtected', 'media.notWriteProtected', 'media.recorded'],
  ...['media.belongsTo', 'media.belongsToNoSet', 'media.lentByCameIn'],
  ...[
    'media.outOf',
    'media.laidBeside',
    'media.nobodyKnown',
    'media.onADayNotKnown',
    'media.noDaySet',
  ],
]);

test('no sentence is kept that nobody says', () => {
  const text = sources();
  const unused = (catalogue: object, isSaid: (area: string, key: string) => boolean) =>
    Object.entries(catalogue).flatMap(([area, sentences]) =>
      Object.keys(sentences as object)
        .filter((key) => !isSaid(area, key))
        .map((key) => `${area}.${key}`)
        .filter((code) => !OF_OLDER_ENTRIES.has(code)),
    );
  expect(
    unused(
      told,
      (area, key) =>
        BY_NAME.includes(area) || text.includes(IN_LAYOUTS[area]?.(key) ?? `'${area}.${key}'`),
    ),
  ).toEqual([]);
  const words = new Set(text.match(/\bsay\.\w+\.\w+/g));
  expect(unused(say, (area, key) => words.has(`say.${area}.${key}`))).toEqual([]);
});
