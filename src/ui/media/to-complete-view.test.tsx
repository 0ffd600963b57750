/** @jest-environment jsdom */
/** What is still to be completed, narrowed to one kind, and page by page. */
import { fireEvent, screen } from '@testing-library/react';
import { answerWith, renderWithQueries } from '../../../tests/support/render';
import type { ToComplete } from '../data/queries';
import { ToCompleteView } from './to-complete-view';

const answer = (codes: string[], more: Partial<ToComplete> = {}): ToComplete => ({
  media: codes.map((code) => ({
    code,
    title: `Title of ${code}`,
    form: '8',
    lot: 'lot 1',
    held: false,
    toComplete: ['owner', 'photo'],
  })),
  next: null,
  of: 10,
  total: 4,
  counts: { 'what it is': 0, owner: 3, label: 0, condition: 0, photo: 4, side: 0 },
  sets: [],
  ...more,
});

test('kinds that nobody lacks are not offered; one that is chosen is asked for', async () => {
  const asked = answerWith({
    '/api/to-complete?': answer(['TST-0001', 'TST-0002']),
    '/api/to-complete?only=owner': answer(['TST-0002']),
  });
  renderWithQueries(<ToCompleteView />);
  expect((await screen.findByRole('heading', { level: 1 })).textContent).toMatch(/^Looking/);
  await screen.findByText('TST-0001');
  expect(screen.getByRole('heading', { level: 1 }).textContent).toBe(
    '4 of 10 media lack something',
  );
  expect(screen.getAllByRole('button').map(({ textContent }) => textContent)).toEqual([
    'owner: 3',
    'photo: 4',
  ]);
  fireEvent.click(screen.getByRole('button', { name: 'owner: 3' }));
  await screen.findByText('TST-0002');
  expect(asked).toEqual(['/api/to-complete?', '/api/to-complete?only=owner']);
});

test('each thing that is lacking leads to where it is put in', async () => {
  answerWith({ '/api/to-complete?': answer(['TST-0001']) });
  renderWithQueries(<ToCompleteView />);
  await screen.findByText('TST-0001');
  const links = ['owner', 'photo'].map((name) => screen.getByRole('link', { name }));
  expect(links.map((link) => link.getAttribute('href'))).toEqual([
    '/media/TST-0001?correct=lender',
    '/media/TST-0001#papers',
  ]);
});

test('it goes on behind the last code, and back', async () => {
  answerWith({
    '/api/to-complete?': answer(['TST-0001'], { next: 'TST-0001' }),
    '/api/to-complete?after=TST-0001': answer(['TST-0002']),
  });
  renderWithQueries(<ToCompleteView />);
  fireEvent.click(await screen.findByRole('button', { name: 'More' }));
  await screen.findByText('TST-0002');
  expect(screen.queryByRole('button', { name: 'More' })).toBeNull();
  fireEvent.click(screen.getByRole('button', { name: 'Those before' }));
  await screen.findByText('TST-0001');
});

test('sets tell which places nobody has', async () => {
  const missing = Array.from({ length: 14 }, (_, i) => i + 2);
  answerWith({
    '/api/to-complete?': answer([], {
      total: 0,
      sets: [
        {
          name: 'Seven discs',
          members: 15,
          count: 1,
          missing,
          own: [{ code: 'TST-0007', title: 'first', number: 1 }],
        },
      ],
    }),
  });
  renderWithQueries(<ToCompleteView />);
  const item = (await screen.findByText('Seven discs')).closest('li')!;
  expect(item.textContent).toBe(
    'Seven discs: 1 of 15; missing 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13 and 2 more. TST-0007',
  );
  expect(screen.getByRole('heading', { level: 1 }).textContent).toBe('Nothing is to be completed');
});
