/** What the log says of errors: enough to find them, and nothing that somebody typed. */
import { describeError } from './log';

test('neither a failed query nor its cause gives away what was asked with', () => {
  const cause = Object.assign(new Error('invalid input syntax for type integer: "a lender"'), {
    severity: 'ERROR',
    code: '22P02',
  });
  const failed = Object.assign(new Error('Failed query: select $1\nparams: a lender', { cause }), {
    query: 'select $1',
    params: ['a lender'],
  });
  const said = describeError(failed);
  expect(JSON.stringify(said)).not.toContain('a lender');
  expect(said).toMatchObject({ message: 'a query failed', cause: { code: '22P02' } });
  expect(JSON.stringify(said)).toContain('log.test');
});

test('any other error is told with its message, its stack and its cause', () => {
  const error = new Error('the bench went', { cause: new Error('ECONNRESET') });
  expect(describeError(error)).toMatchObject({
    message: 'the bench went',
    stack: expect.arrayContaining([expect.stringContaining('log.test')]),
    cause: { message: 'ECONNRESET' },
  });
});
