/** @jest-environment jsdom */
/** Where a hard disk came from: noted once, changed later, kept as it was typed. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../../tests/support/render';
import type { DocketData } from '../../data/queries';
import { Origin } from './origin';

type Medium = DocketData['medium'];
const show = (origin: Medium['origin'], machine = '') =>
  renderWithQueries(<Origin medium={{ code: 'TST-0001', origin, machine } as Medium} />);
const field = (name: string) => document.querySelector<HTMLInputElement>(`[name="${name}"]`);
const begin = () => fireEvent.click(screen.getByRole('button'));

test('nothing is noted until it is', async () => {
  const asked = serve();
  show(null);
  expect(field('machine')).toBeNull();
  begin();
  fireEvent.change(field('machine')!, { target: { value: 'the office machine' } });
  fireEvent.change(field('jumpers')!, { target: { value: 'second drive' } });
  fireEvent.submit(field('machine')!.closest('form')!);
  await waitFor(() => expect(field('machine')).toBeNull());
  expect(changesIn(asked)).toEqual([
    {
      path: '/api/media/TST-0001',
      body: { machine: 'the office machine', origin: { jumpers: 'second drive', notes: '' } },
    },
  ]);
});

test('what is noted stands there, and is what the form begins with', () => {
  serve();
  show({ jumpers: '', notes: 'never opened' }, 'the office machine');
  expect(screen.getByTestId('origin').textContent).toContain('the office machine');
  begin();
  expect(['machine', 'jumpers', 'notes'].map((name) => field(name)!.value)).toEqual([
    'the office machine',
    '',
    'never opened',
  ]);
});

test('a refusal keeps what was typed', async () => {
  serve({ answer: { error: 'Too long.' }, status: 422 });
  show(null);
  begin();
  fireEvent.change(field('notes')!, { target: { value: 'a note' } });
  fireEvent.submit(field('notes')!.closest('form')!);
  expect((await screen.findByRole('alert')).textContent).toBe('Too long.');
  expect(field('notes')!.value).toBe('a note');
});
