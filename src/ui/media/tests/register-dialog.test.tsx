/** @jest-environment jsdom */
/** One medium is registered: what is typed survives a reload, what the server refuses stands at its field. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { keepSent, renderWithQueries, serve } from '../../../../tests/support/render';
import { RegisterDialog } from '../register-dialog';

const named = (name: string) => document.querySelector<HTMLInputElement>(`[name="${name}"]`)!;
const fill = (name: string, value: string) => fireEvent.change(named(name), { target: { value } });
const submit = () => fireEvent.submit(document.querySelector('form')!);
const show = (onOpenChange: (open: boolean) => void = () => {}) =>
  renderWithQueries(<RegisterDialog open onOpenChange={onOpenChange} nextCode="TST-0042" />);

beforeEach(() => localStorage.clear());

test('the next code stands there, and all of it is sent', async () => {
  const sent = keepSent();
  let open = true;
  show((to) => (open = to));
  expect(named('code').value).toBe('TST-0042');
  fill('title', 'Dues of 1984');
  fill('lender', 'a keeper');
  submit();
  await waitFor(() => expect(open).toBe(false));
  expect(sent).toMatchObject([
    {
      path: '/api/media',
      body: { code: 'TST-0042', title: 'Dues of 1984', lender: 'a keeper', form: '3.5' },
    },
  ]);
});

test('a code that was proposed follows the lot; one that was typed stays', async () => {
  const next = { numbering: { before: '2024/017/', digits: 2, after: '' }, number: 3 };
  const asked = serve({ get: next });
  show();
  fill('lot', 'Tide office');
  fireEvent.blur(named('lot'));
  await waitFor(() => expect(named('code').value).toBe('2024/017/03'));
  fill('code', 'MS 12');
  fireEvent.blur(named('lot'));
  fill('lot', 'Harbour');
  fireEvent.blur(named('lot'));
  await waitFor(() => expect(asked.at(-1)?.path).toBe('/api/codes?lot=Harbour'));
  expect(named('code').value).toBe('MS 12');
});

test('the code of the next one follows its lot as well', async () => {
  const ofLot = (number: number) => ({
    ...{ numbering: { before: 'TID-', digits: 1, after: '' }, number },
  });
  let number = 3;
  serve({ get: () => ofLot(number) });
  let open = true;
  const page = show((to) => (open = to));
  fill('lot', 'Tide office');
  fireEvent.blur(named('lot'));
  await waitFor(() => expect(named('code').value).toBe('TID-3'));
  fill('title', 'Dues');
  submit();
  number = 4;
  await waitFor(() => expect(open).toBe(false));
  for (const isOpen of [false, true])
    page.rerender(<RegisterDialog open={isOpen} onOpenChange={() => {}} nextCode="TST-0043" />);
  fill('code', 'TST-0043');
  fill('lot', 'Tide office');
  fireEvent.blur(named('lot'));
  await waitFor(() => expect(named('code').value).toBe('TID-4'));
});

test('a title that lacks is said at its field, and nothing is sent', async () => {
  const sent = keepSent();
  show();
  submit();
  await waitFor(() => expect(screen.getAllByRole('alert').length).toBeGreaterThan(0));
  expect(document.getElementById('title-error')).not.toBeNull();
  expect(sent).toEqual([]);
});

test('what the server refuses stands at the field that it names', async () => {
  keepSent({ error: 'taken', fields: { code: 'TST-0042 is taken' } }, 400);
  show();
  fill('title', 'Dues of 1984');
  submit();
  await waitFor(() =>
    expect(document.getElementById('code-error')?.textContent).toBe('TST-0042 is taken'),
  );
});

test('what was typed comes back after a reload', async () => {
  keepSent();
  const first = show();
  fill('title', 'Dues of 1984');
  await waitFor(() => expect(localStorage.length).toBe(1));
  first.unmount();
  show();
  await waitFor(() => expect(named('title').value).toBe('Dues of 1984'));
});
