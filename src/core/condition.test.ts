/** Condition marks: an order of risk, and words taken from a spreadsheet's cell. */
import { marksIn, riskOf } from './condition';

test.each([
  [[], false, 1],
  [['scratches'], false, 2],
  [['shedding'], false, 4],
  [['shedding', 'scratches'], false, 5],
  [['mould'], false, 5],
  [[], true, 5],
] as const)('%j, treat first %s: risk %i', (marks, treatFirst, risk) => {
  expect(riskOf(marks, treatFirst)).toBe(risk);
});

test('marks are found in what somebody wrote', () => {
  expect(marksIn('Mould, both sides; light scratches')).toEqual(['mould', 'scratches']);
  expect(marksIn('good')).toEqual([]);
  expect(marksIn('no mould, not warped; Dye faded')).toEqual(['dye-faded']);
});
