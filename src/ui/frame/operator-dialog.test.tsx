/** @jest-environment jsdom */
/** Who is at work: one of those that are known, or another; what is refused leaves the dialog open. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../tests/support/render';
import { OperatorDialog } from './operator-dialog';

const NAMES = ['Ingrid Sollis', 'Tam Okoro'];

function open() {
  const changed = jest.fn();
  renderWithQueries(
    <OperatorDialog open onOpenChange={changed} names={NAMES} current="Tam Okoro" recipient="" />,
  );
  return changed;
}
/** The first of the dialog; behind it stands for whom things are taken out. */
const nameField = () => screen.getAllByRole('textbox')[0]!;
const asked = (name: string) => [{ path: '/api/operators', body: { name } }];

test('a name that is known is taken by its button', async () => {
  const sent = serve();
  const changed = open();
  fireEvent.click(screen.getByRole('button', { name: 'Ingrid Sollis' }));
  await waitFor(() => expect(changed).toHaveBeenCalledWith(false));
  expect(changesIn(sent)).toEqual(asked('Ingrid Sollis'));
});

test('another name is typed, and taken with Enter', async () => {
  const sent = serve();
  const changed = open();
  const field = nameField();
  fireEvent.change(field, { target: { value: 'Mara Quist' } });
  fireEvent.submit(field.closest('form')!);
  await waitFor(() => expect(changed).toHaveBeenCalledWith(false));
  expect(changesIn(sent)).toEqual(asked('Mara Quist'));
});

test('what is refused is told, and nobody else is at work', async () => {
  serve({ answer: { error: 'FALSE NEWS' }, status: 422 });
  const changed = open();
  fireEvent.submit(nameField().closest('form')!);
  expect((await screen.findByRole('alert')).textContent).toContain('FALSE NEWS');
  expect(changed).not.toHaveBeenCalled();
});

test('for whom things are taken out is kept, until it is nobody any more', async () => {
  const sent = serve();
  const changed = open();
  const field = document.querySelector<HTMLInputElement>('[name=recipient]')!;
  for (const value of ['R. Heron', '']) {
    fireEvent.change(field, { target: { value } });
    fireEvent.submit(field.closest('form')!);
    await waitFor(() => expect(changed).toHaveBeenCalledWith(false));
    changed.mockReset();
  }
  expect(changesIn(sent)).toEqual(
    ['R. Heron', ''].map((recipient) => ({ path: '/api/recipient', body: { recipient } })),
  );
});
