/** What is said is told, whatever it is made of. */
import fc from 'fast-check';
import { asWritten, eachOnce, said } from '@/core/said';
import { told } from '.';
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
