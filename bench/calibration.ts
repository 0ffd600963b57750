/**
 * Whether what is told of a field's belief holds: of so many fields in doubt, how many of those
 * that are told to be wrong once in so many are.
 */
import { seededRandom } from '@/core/bits/random';
import { calibration } from '../tests/support/doubtful-field';

const FIELDS = 1_000_000;

export function benchCalibration() {
  const random = seededRandom('belief');
  return calibration(random, FIELDS).map(({ power, fields, told, found }) => ({
    'told from': `1e${power}`,
    fields,
    'told, mean': fields > 0 ? (told / fields).toExponential(2) : '',
    'wrong by that': told.toFixed(1),
    'found wrong': found,
  }));
}
