/** @jest-environment jsdom */
/** An assembly is begun: blank, with a label as long as its system takes, or from an image. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import { changesIn, renderWithQueries, serve } from '../../../../tests/support/render';
import { FOUND_IMAGE } from '../../../../tests/support/found-image';
import { BeginDialog } from '../begin-dialog';

const push = jest.fn();
const mockRouter = { push };
jest.mock('next/navigation', () => ({ useRouter: () => mockRouter }));

const answers = { copies: [FOUND_IMAGE] };
const show = () => renderWithQueries(<BeginDialog open onOpenChange={() => {}} />);
const named = <E extends HTMLElement>(name: string) =>
  document.querySelector<E>(`[name="${name}"]`)!;
const fill = (name: string, value: string) => fireEvent.change(named(name), { target: { value } });
const submit = () => fireEvent.submit(document.querySelector('form')!);

beforeEach(() => push.mockReset());

test('a blank volume goes with its kind and label, and its page opens', async () => {
  const sent = serve({ get: answers, answer: { id: 77 } });
  show();
  fill('title', 'Reading room');
  fill('kind', 'd64');
  fill('label', 'ROOM');
  submit();
  await waitFor(() => expect(push.mock.calls).toEqual([['/assembly/77']]));
  expect(changesIn(sent)).toEqual([
    { path: '/api/assemblies', body: { title: 'Reading room', kind: 'd64', label: 'ROOM' } },
  ]);
});

test('every kind can be chosen, and the label is as long as it takes', () => {
  serve({ get: answers, answer: { id: 77 } });
  show();
  const kinds = [...named<HTMLSelectElement>('kind').options].map(({ value }) => value);
  expect(kinds).toEqual(BLANK_KINDS.map(({ id }) => id));
  for (const { id, mostLabel } of BLANK_KINDS) {
    fill('kind', id);
    const label = named<HTMLInputElement>('label');
    expect([id, label.disabled, label.maxLength]).toEqual([id, mostLabel === 0, mostLabel]);
  }
});

test('an image that is kept takes the place of the blank, and can be given up again', async () => {
  const sent = serve({ get: answers, answer: { id: 77 } });
  show();
  fill('title', 'Letters put right');
  fireEvent.change(screen.getByTestId('image-choice'), { target: { value: 'dues' } });
  await screen.findByText('TST-0001');
  fireEvent.keyDown(screen.getByTestId('image-choice'), { key: 'Enter' });
  expect(named('kind')).toBeNull();
  submit();
  await waitFor(() => expect(changesIn(sent)).toHaveLength(1));
  expect(changesIn(sent)[0]!.body).toEqual({ title: 'Letters put right', baseId: 12 });
  fireEvent.click(screen.getByRole('button', { name: /blank volume instead/i }));
  expect(named('kind')).not.toBeNull();
});

test('without a title nothing is sent', async () => {
  const sent = serve({ get: answers, answer: { id: 77 } });
  show();
  submit();
  await waitFor(() => expect(named('title').getAttribute('aria-invalid')).toBe('true'));
  expect([changesIn(sent), push.mock.calls]).toEqual([[], []]);
});

test('what the server refuses of a field stands at that field', async () => {
  serve({
    answer: { error: 'That label has a letter too many.', field: 'label' },
    status: 422,
  });
  show();
  fill('title', 'Reading room');
  fill('label', 'ROOM');
  submit();
  await waitFor(() => expect(named('label').getAttribute('aria-invalid')).toBe('true'));
  expect(screen.getByRole('alert').textContent).toContain('That label has a letter too many.');
});
