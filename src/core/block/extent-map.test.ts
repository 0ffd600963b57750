/** The extent map against a plain list of blocks. */
import fc from 'fast-check';
import { GRADES } from '../reading/grades';
import { ExtentMap, NOTHING_KNOWN, unsoundRuns, type BlockKnowledge } from './extent-map';

const known = (grade: BlockKnowledge['grade'], tries: number): BlockKnowledge => ({
  grade,
  tries,
  group: 0,
  pace: 0,
});

test('it says of every block what a plain list says, joins what is alike, and its changes make the same map elsewhere', () => {
  const change = fc.tuple(fc.nat(199), fc.nat(60), fc.constantFrom(...GRADES), fc.nat(2));
  fc.assert(
    fc.property(fc.array(change, { maxLength: 40 }), (changes) => {
      const map = new ExtentMap(200);
      const plain: BlockKnowledge[] = Array.from({ length: 200 }, () => NOTHING_KNOWN);
      const elsewhere = new Map(map.extents().map((extent) => [extent.from, { ...extent }]));
      for (const [from, count, grade, tries] of changes) {
        const to = Math.min(200, from + count);
        map.update(from, to, () => known(grade, tries));
        for (let i = from; i < to; i++) plain[i] = known(grade, tries);
        const { gone, came } = map.takeChanges();
        for (const at of gone) elsewhere.delete(at);
        for (const extent of came) elsewhere.set(extent.from, extent);
      }
      expect(
        plain.map((_, block) => {
          const { grade, tries } = map.at(block)!;
          return [grade, tries];
        }),
      ).toEqual(plain.map(({ grade, tries }) => [grade, tries]));
      const list = map.extents();
      expect(
        list.every(
          (each, i) =>
            i === 0 ||
            (list[i - 1]!.to === each.from &&
              (list[i - 1]!.grade !== each.grade || list[i - 1]!.tries !== each.tries)),
        ),
      ).toBe(true);
      for (const grade of GRADES)
        expect(map.tally()[grade]).toBe(plain.filter((each) => each.grade === grade).length);
      expect(new ExtentMap(200, [...elsewhere.values()]).extents()).toEqual(list);
      const runs = unsoundRuns(map).flatMap(({ from, to }) =>
        Array.from({ length: to - from }, (_, i) => from + i),
      );
      expect(runs).toEqual(
        plain.flatMap(({ grade }, i) => (grade === 'firm' || grade === 'mended' ? [] : [i])),
      );
    }),
    { numRuns: 200 },
  );
});

test.each([
  [
    'over one another',
    [
      { from: 0, to: 5 },
      { from: 4, to: 8 },
    ],
  ],
  ['beyond the device', [{ from: 5, to: 11 }]],
  ['of nothing', [{ from: 3, to: 3 }]],
])('extents %s are refused', (_, extents) => {
  expect(
    () =>
      new ExtentMap(
        10,
        extents.map((each) => ({ ...each, ...NOTHING_KNOWN })),
      ),
  ).toThrow(RangeError);
});
