/**
 * How the salvage plan does on fault maps: its requests beside the fewest possible, and how soon
 * most of it is there.
 */
import { FAULT_MAPS, salvageFigures } from '../tests/support/fault-maps';

export function benchSalvage() {
  return FAULT_MAPS.map(([name, device]) => {
    const { complete, requests, fewest, early } = salvageFigures(name, device);
    return {
      'fault map': name,
      'all readable blocks': complete ? 'yes' : 'NO',
      requests,
      'fewest possible': fewest,
      'ratio, at most 1.5': (requests / fewest).toFixed(2),
      'there after a tenth of the failures, at least 95 %': `${(100 * early).toFixed(1)} %`,
    };
  });
}
