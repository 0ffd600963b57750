/** @jest-environment jsdom */
/** A transfer is begun: the image is found, the line chosen, a loader typed in first if wanted. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../tests/support/render';
import { FOUND_IMAGE } from '../../../tests/support/found-image';
import { NewTransferForm } from './new-transfer-form';

const push = jest.fn();
const mockRouter = { push };
jest.mock('next/navigation', () => ({ useRouter: () => mockRouter }));

const LINES = [
  { id: 'L1', name: 'grey cable', rates: [300, 1200, 9600] },
  { id: 'L2', name: 'long cable', rates: [300, 1200] },
];
const answers = (path: string) =>
  path.startsWith('/api/holdings') ? { copies: [FOUND_IMAGE] } : [];

async function choose(): Promise<void> {
  const search = screen.getByTestId('image-choice');
  fireEvent.change(search, { target: { value: 'dues' } });
  await screen.findByRole('option');
  fireEvent.keyDown(search, { key: 'Enter' });
}
const sendButton = () => screen.getByRole('button', { name: /TST-0001.*L\d/ });

test('the usual rate is chosen where the line has it, and all of it is sent', async () => {
  const sent = serve({ get: answers });
  renderWithQueries(<NewTransferForm lines={LINES} />);
  await choose();
  fireEvent.click(sendButton());
  await waitFor(() => expect(changesIn(sent)).toHaveLength(1));
  expect(changesIn(sent)[0]).toEqual({
    path: '/api/transfers',
    body: {
      fairCopyId: 12,
      line: 'L1',
      rate: 9600,
      large: false,
      loader: '',
      typingRate: 10,
      linePauseMs: 200,
      nameThere: '',
    },
  });
  await waitFor(() => expect(screen.queryByRole('button', { name: /TST-0001/ })).toBeNull());
});

test('another line has its own rates', async () => {
  serve({ get: answers });
  renderWithQueries(<NewTransferForm lines={LINES} />);
  await choose();
  const [line, rate] = screen.getAllByRole<HTMLSelectElement>('combobox');
  fireEvent.change(line!, { target: { value: 'L2' } });
  expect([...rate!.options].map(({ value }) => value)).toEqual(['300', '1200']);
});

test('a loader is typed at a rate, which is asked for only then', async () => {
  const sent = serve({ get: answers });
  renderWithQueries(<NewTransferForm lines={LINES} />);
  await choose();
  expect(screen.queryAllByRole('spinbutton')).toHaveLength(0);
  fireEvent.change(screen.getByTestId('loader'), { target: { value: '10 PRINT\n20 GOTO 10\n' } });
  const [typing, pause] = screen.getAllByRole('spinbutton');
  fireEvent.change(typing!, { target: { value: '5' } });
  fireEvent.change(pause!, { target: { value: '1000' } });
  fireEvent.click(sendButton());
  await waitFor(() => expect(changesIn(sent)).toHaveLength(1));
  expect(changesIn(sent)[0]!.body).toMatchObject({
    loader: '10 PRINT\n20 GOTO 10\n',
    typingRate: 5,
    linePauseMs: 1000,
  });
});

test('a bench without a line offers no way to send, and a refusal keeps the form', async () => {
  serve({ get: answers });
  const { unmount } = renderWithQueries(<NewTransferForm lines={[]} />);
  await choose();
  expect(screen.queryByRole('combobox', { name: /line/i })).toBeNull();
  unmount();
  serve({ get: answers, answer: { error: 'The line is taken.' }, status: 409 });
  renderWithQueries(<NewTransferForm lines={LINES} />);
  await choose();
  fireEvent.click(sendButton());
  expect((await screen.findByRole('alert')).textContent).toBe('The line is taken.');
  expect(sendButton()).toBeTruthy();
});
