/** @jest-environment jsdom */
/** One medium corrected: only what was changed is sent, and what is refused stands at its field. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../../../tests/support/render';
import type { DocketData } from '../../../data/queries';
import { CorrectDialog } from '../correct-dialog';

const replace = jest.fn();
jest.mock('next/navigation', () => ({ useRouter: () => ({ replace }) }));

const MEDIUM = {
  ...{ id: 4, code: 'AB-1', form: '3.5', title: 'Lamp rota', labelText: '', lender: 'Orrin' },
  ...{ lot: 'lot 1', setName: 'Rotas', setNumber: 2, condition: '', recordedSide: 'both' },
  machine: '',
  shelf: '',
  ...{ writeProtected: false, treatFirst: true, isBlank: false, marks: ['mould'] },
} as unknown as DocketData['medium'];

const show = (field: string | null = null) => {
  const onClose = jest.fn();
  renderWithQueries(<CorrectDialog medium={MEDIUM} open field={field} onClose={onClose} />);
  return onClose;
};
const field = (name: string) => document.querySelector<HTMLInputElement>(`[name=${name}]`)!;
const send = () => fireEvent.click(screen.getByText('Correct it'));
beforeEach(() => replace.mockClear());

test('what was changed is sent, and nothing else', async () => {
  const asked = serve({ answer: { ok: true } });
  const onClose = show();
  fireEvent.change(field('lender'), { target: { value: 'The second keeper' } });
  fireEvent.change(field('setNumber'), { target: { value: '' } });
  fireEvent.change(field('form'), { target: { value: '5.25' } });
  fireEvent.click(field('treatFirst'));
  send();
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  expect(changesIn(asked)).toEqual([
    {
      path: '/api/media/AB-1',
      body: { form: '5.25', lender: 'The second keeper', setNumber: null, treatFirst: false },
    },
  ]);
  expect(replace).not.toHaveBeenCalled();
});

test('what somebody else corrects meanwhile is not undone', async () => {
  const asked = serve({ answer: { ok: true } });
  const onClose = jest.fn();
  const dialog = (medium: typeof MEDIUM) => (
    <CorrectDialog medium={medium} open field={null} onClose={onClose} />
  );
  const { rerender } = renderWithQueries(dialog(MEDIUM));
  fireEvent.change(field('lot'), { target: { value: 'lot 2' } });
  rerender(dialog({ ...MEDIUM, lender: 'The second keeper' }));
  send();
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  expect(changesIn(asked)).toEqual([{ path: '/api/media/AB-1', body: { lot: 'lot 2' } }]);
});

test('with another code the page goes on under it', async () => {
  serve({ answer: { ok: true } });
  show();
  fireEvent.change(field('code'), { target: { value: 'ab-7' } });
  send();
  await waitFor(() => expect(replace).toHaveBeenCalledWith('/media/AB-7'));
});

test('where nothing was changed nothing is sent', async () => {
  const asked = serve({ answer: { ok: true } });
  const onClose = show();
  send();
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  expect(changesIn(asked)).toEqual([]);
});

test.each([
  ['code', 'lamp#1'],
  ['title', ''],
  ['setNumber', '0'],
])('%s can’t be “%s”: said at its field, and nothing is sent', async (name, value) => {
  const asked = serve({ answer: { ok: true } });
  show();
  fireEvent.change(field(name), { target: { value } });
  send();
  await waitFor(() => expect(screen.queryAllByRole('alert').length).toBeGreaterThan(0));
  expect(changesIn(asked)).toEqual([]);
});

test('what the server refuses is told, and the form stays', async () => {
  serve({ answer: { error: 'IT IS IN A DRIVE' }, status: 409 });
  const onClose = show();
  fireEvent.change(field('form'), { target: { value: '8' } });
  send();
  expect((await screen.findByRole('alert')).textContent).toContain('IT IS IN A DRIVE');
  expect(onClose).not.toHaveBeenCalled();
});

test.each(['lender', 'recordedSide', 'condition'])(
  'who comes for %s has the focus there',
  async (name) => {
    show(name);
    await waitFor(() => expect(document.activeElement).toBe(field(name)));
  },
);

test('a name of no field is none', async () => {
  show('constructor');
  await waitFor(() => expect(document.activeElement).toBe(field('code')));
});
