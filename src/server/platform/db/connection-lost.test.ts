/** What counts as a lost connection. */
import { isConnectionLost } from './connection-lost';

test('a cut connection is told from work that failed', () => {
  const cut = Object.assign(new Error('terminating connection due to administrator command'), {
    code: '57P01',
  });
  expect(isConnectionLost(new Error('Failed query', { cause: cut }))).toBe(true);
  expect(isConnectionLost(new Error('Connection terminated unexpectedly'))).toBe(true);
  expect(isConnectionLost(Object.assign(new Error('read'), { code: 'ECONNRESET' }))).toBe(true);
  expect(isConnectionLost(Object.assign(new Error('duplicate key'), { code: '23505' }))).toBe(
    false,
  );
  expect(isConnectionLost(new Error('Connection of the drive terminated'))).toBe(false);
  for (const nothing of [undefined, null, 'gone', 57])
    expect(isConnectionLost(nothing)).toBe(false);
});
