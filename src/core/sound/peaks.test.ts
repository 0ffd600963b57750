/** Peaks of stretches against a look at every frame of them. */
import fc from 'fast-check';
import { Peaks } from './peaks';

test('those of any stretch are those of its frames', () =>
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: -9, max: 9 }), { minLength: 1, maxLength: 700 }),
      fc.nat(800),
      fc.nat(800),
      (values, a, b) => {
        const [from, to] = [Math.min(a, b), Math.max(a, b)];
        const own = values.slice(from, Math.max(from + 1, to));
        expect(new Peaks(Float32Array.from(values)).between(from, to)).toEqual(
          own.length === 0
            ? { least: 0, most: 0 }
            : { least: Math.min(...own), most: Math.max(...own) },
        );
      },
    ),
    { numRuns: 500 },
  ));
