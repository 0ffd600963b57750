/**
 * A volume of every family with one sector lost or overwritten, and with one entry of its directory:
 * some volume is always found, files that the loss has nothing of are whole, and what changed is told.
 */
import { LOSS_CASES, imageOf } from '../../../../tests/support/lost/cases';
import { loseEach } from '../../../../tests/support/lost/one-sector-lost';

test.each(LOSS_CASES)('$name', async (each) => {
  const { tried, right, faults } = await loseEach(await imageOf(each), each, false);
  expect(faults).toEqual([]);
  expect([tried > 20, right]).toEqual([true, tried]);
});
