/** @jest-environment jsdom */
/** A stack: media of the register in the order they are chosen, or new ones named by a pattern. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../tests/support/render';
import { station } from '../../../tests/support/stations';
import { StackDialog } from './stack-dialog';

const medium = (code: string) => ({ code, title: `Title of ${code}`, lot: 'lot 1' });
const register = (...codes: string[]) => ({ media: codes.map(medium), nextCode: 'TST-0040' });
const onOpenChange = jest.fn();
const show = () =>
  renderWithQueries(<StackDialog open onOpenChange={onOpenChange} station={station({ id: 2 })} />);
const box = (code: string) => screen.getByRole('checkbox', { name: new RegExp(code) });

beforeEach(() => onOpenChange.mockReset());

test('what fits this drive is asked for, and read in the order it is chosen', async () => {
  const asked = serve({ get: register('TST-0001', 'TST-0002', 'TST-0003') });
  show();
  await screen.findByText('TST-0001');
  expect(asked.map(({ path }) => path)).toEqual(['/api/media?stackOf=2&form=3.5']);
  for (const code of ['TST-0003', 'TST-0001', 'TST-0002', 'TST-0001']) fireEvent.click(box(code));
  fireEvent.click(screen.getByRole('button', { name: /^Read (these|this)/ }));
  await waitFor(() => expect(onOpenChange).toHaveBeenCalledWith(false));
  expect(changesIn(asked)).toEqual([
    {
      path: '/api/stations/2',
      body: { action: 'stack', stack: { codes: ['TST-0003', 'TST-0002'] } },
    },
  ]);
});

test('nothing chosen can’t be read', async () => {
  serve({ get: register('TST-0001') });
  show();
  await screen.findByText('TST-0001');
  const button = screen.getByRole<HTMLButtonElement>('button', { name: /^Read/ });
  expect(button.disabled).toBe(true);
});

test('new ones are named by a pattern, from the next code on', async () => {
  const asked = serve({ get: register() });
  show();
  const field = (name: string) => document.querySelector<HTMLInputElement>(`[name="${name}"]`)!;
  await waitFor(() => expect(field('first')).not.toBeNull());
  fireEvent.change(field('first'), { target: { value: 'TST-0040' } });
  fireEvent.change(field('title'), { target: { value: 'Fog logs, disk {n}' } });
  fireEvent.change(field('count'), { target: { value: '12' } });
  fireEvent.submit(field('first').closest('form')!);
  await waitFor(() => expect(changesIn(asked)).toHaveLength(1));
  expect(changesIn(asked)[0]!.body).toEqual({
    action: 'stack',
    stack: {
      pattern: { first: 'TST-0040', count: 12, title: 'Fog logs, disk {n}', from: 1, lot: '' },
    },
  });
});

test('a refusal is said, and the dialog stays', async () => {
  serve({
    get: register('TST-0001'),
    answer: { error: 'TST-0001 is being read at station 4.' },
    status: 409,
  });
  show();
  await screen.findByText('TST-0001');
  fireEvent.click(box('TST-0001'));
  fireEvent.click(screen.getByRole('button', { name: /^Read/ }));
  expect((await screen.findByRole('alert')).textContent).toBe(
    'TST-0001 is being read at station 4.',
  );
  expect(onOpenChange).not.toHaveBeenCalled();
});
