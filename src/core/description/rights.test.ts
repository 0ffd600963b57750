/** What may be done with something, by what is said of it, of its set and of its lot. */
import * as fc from 'fast-check';
import {
  holdsOn,
  isWithoutRights,
  NO_RIGHTS_SAID,
  rightsOfBoth,
  statementOf,
  type Rights,
} from './rights';

const until = (opensOn: string, reason = 'by agreement'): Rights => ({
  ...NO_RIGHTS_SAID,
  restriction: { reason, opensOn },
});
const PERSONAL: Rights = { ...NO_RIGHTS_SAID, isPersonal: true };

test('a restriction holds until the day before it opens, and opens by itself', () => {
  const levels = { medium: until('2041-01-01') };
  expect(holdsOn(levels, '2040-12-31')).toEqual([
    { reason: 'by agreement', opensOn: '2041-01-01', from: 'medium', isPersonal: false },
  ]);
  expect(holdsOn(levels, '2041-01-01')).toEqual([]);
  expect(holdsOn({ medium: until('') }, '9999-12-31')).toHaveLength(1);
});

test('what restricts a lot or a set restricts its media, whatever these say themselves', () => {
  const levels = { medium: until('2020-01-01'), set: PERSONAL, lot: until('2050-01-01') };
  expect(holdsOn(levels, '2026-11-30').map(({ from }) => from)).toEqual(['set', 'lot']);
  expect(holdsOn({ lot: until('2050-01-01'), medium: null }, '2026-11-30')).toHaveLength(1);
  expect(holdsOn({}, '2026-11-30')).toEqual([]);
});

test('the nearest statement counts as a whole', () => {
  const words = { ...NO_RIGHTS_SAID, words: 'ask the family' };
  const uri = { ...NO_RIGHTS_SAID, statement: 'http://rightsstatements.org/vocab/InC/1.0/' };
  expect(statementOf({ lot: uri, set: words })).toEqual({
    ...{ statement: '', words: 'ask the family', from: 'set' },
  });
  expect(statementOf({ lot: uri, medium: PERSONAL })).toMatchObject({ from: 'lot' });
  expect(statementOf({ medium: NO_RIGHTS_SAID })).toBeNull();
});

const anyRights = fc.option(
  fc.record({
    statement: fc.constantFrom('', 'http://example.org/a'),
    words: fc.constantFrom('', 'ask'),
    restriction: fc.option(
      fc.record({
        reason: fc.constantFrom('a', 'b'),
        opensOn: fc.constantFrom('', '2027-01-01', '2040-06-30'),
      }),
    ),
    isPersonal: fc.boolean(),
  }),
);

test('two that are one are held on every day that either was', () => {
  fc.assert(
    fc.property(
      anyRights,
      anyRights,
      fc.constantFrom('2026-11-30', '2027-01-01', '2040-06-29', '2040-06-30'),
      (one, other, day) => {
        const isHeld = (rights: Rights | null) => holdsOn({ medium: rights }, day).length > 0;
        expect(isHeld(rightsOfBoth(one, other))).toBe(isHeld(one) || isHeld(other));
      },
    ),
  );
});

test('nothing said is nothing, and a flag alone is something', () => {
  expect([NO_RIGHTS_SAID, PERSONAL, until('')].map(isWithoutRights)).toEqual([true, false, false]);
});
