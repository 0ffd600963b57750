/** @jest-environment jsdom */
/** A settling tells how far it is, can be hurried once, and what was left out can be asked for. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { keepSent, renderWithQueries } from '../../../../tests/support/render';
import type { DocketData } from '../../data/queries';
import { SettlingState } from '../settling-state';

const shown = (settling: object | null, kinds: string[] = []) =>
  renderWithQueries(
    <SettlingState
      data={
        {
          medium: { code: 'TST-0001' },
          settling,
          copy: { problems: kinds.map((kind) => ({ kind })) },
        } as unknown as DocketData
      }
    />,
  );
const underWay = { state: 'settling', progress: null, isHurried: false, trouble: null };

test.each([
  ['none was asked for', null, []],
  ['the last is done', { ...underWay, state: 'done' }, ['digest-mismatch']],
])('where %s nothing is said', (_, settling, kinds) => {
  expect(shown(settling, kinds).container.textContent).toBe('');
});

test('before a hurt track is met there is nothing to hurry', () => {
  shown(underWay);
  expect(screen.getByRole('status')).toBeTruthy();
  expect(screen.queryByRole('button')).toBeNull();
});

test('what takes long is told and hurried', async () => {
  const sent = keepSent();
  shown({ ...underWay, progress: { done: 3, of: 40 } });
  expect(screen.getByRole('status').textContent).toMatch(/3\D+40/);
  fireEvent.click(screen.getByRole('button'));
  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]).toMatchObject({
    path: '/api/docket/TST-0001/settling',
    body: { by: 'single-turns' },
  });
});

test('it is hurried once', () => {
  shown({ ...underWay, progress: { done: 3, of: 40 }, isHurried: true });
  expect(screen.getByRole<HTMLButtonElement>('button').disabled).toBe(true);
});

test('turns that were not weighed are weighed when asked', async () => {
  const sent = keepSent();
  shown({ ...underWay, state: 'done' }, ['turns-not-weighed']);
  fireEvent.click(screen.getByRole('button'));
  await waitFor(() => expect(sent[0]).toMatchObject({ body: { by: 'all-turns' } }));
});

test('one that failed says why', () => {
  shown({ ...underWay, state: 'failed', trouble: 'The capture is damaged.' });
  expect(screen.getByRole('alert').textContent).toBe('The capture is damaged.');
});
