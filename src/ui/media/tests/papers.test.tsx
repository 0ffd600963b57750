/** @jest-environment jsdom */
/** Papers beside a medium: shown by what they are, added to the medium or its set, taken away. */
import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../../tests/support/render';
import type { DocketData } from '../../data/queries';
import * as outbox from '../outbox';
import { Papers } from '../papers';

jest.mock('../outbox', () => ({
  OUTBOX_EVENT: 'outbox-of-the-test',
  forgetOutgoing: jest.fn(async () => undefined),
  keepOutgoing: jest.fn(async () => undefined),
  outgoing: jest.fn(async () => []),
  sharedBy: ({ name }: { name: string }) => `set ${name}`,
}));
const { keepOutgoing, outgoing, forgetOutgoing } = jest.mocked(outbox);
beforeEach(() => {
  jest.clearAllMocks();
  outgoing.mockResolvedValue([]);
});

const paper = (id: number, type: string, own = true) => ({
  id,
  name: `paper ${id}`,
  type,
  bytes: 1000 * id,
  own,
  who: 'Tam Okoro',
  sha256: 'a'.repeat(64),
});
const SET = { name: 'Logs' };

async function show(papers: ReturnType<typeof paper>[], set: typeof SET | null = null) {
  const all = papers as unknown as DocketData['papers'];
  renderWithQueries(<Papers owner="medium TST-0001" papers={all} set={set} />);
  // What waits is looked for once.
  await act(async () => undefined);
}
const shown = () =>
  [...screen.getByTestId('papers').querySelectorAll<HTMLElement>('button.w-40')].map((each) => ({
    picture: each.querySelector('img')?.getAttribute('src') ?? null,
    text: each.textContent!,
  }));
const pick = (...names: string[]) => {
  const files = names.map((name) => new File(['x'], name));
  fireEvent.change(screen.getByTestId('paper-file'), { target: { files } });
  return files;
};

test('pictures are shown as they are, anything else by its kind', async () => {
  await show([paper(1, 'image/png'), paper(2, 'application/pdf'), paper(3, 'text/plain')]);
  expect(shown().map(({ picture }) => picture)).toEqual(['/api/papers/1', null, null]);
});

test('files are kept for the medium, or for its set where that is chosen', async () => {
  await show([], SET);
  const [first] = pick('label.png');
  fireEvent.click(screen.getByRole('checkbox'));
  await act(async () => undefined);
  const [second] = pick('leaflet.pdf');
  expect(keepOutgoing.mock.calls).toEqual([
    ['medium TST-0001', [first]],
    ['set Logs', [second]],
  ]);
});

test('a medium of no set offers none; files that are dropped are kept', async () => {
  await show([]);
  expect(screen.queryByRole('checkbox')).toBeNull();
  const file = new File(['x'], 'dropped.png');
  fireEvent.drop(screen.getByTestId('papers'), { dataTransfer: { files: [file] } });
  expect(keepOutgoing.mock.calls).toEqual([['medium TST-0001', [file]]]);
});

test('what is on its way for this medium is told, with what refuses it, and can be forgotten', async () => {
  const waiting = (owner: string, name: string, refused: string | null = null) => ({
    owner,
    name,
    refused,
  });
  outgoing.mockResolvedValue([
    ['k1', waiting('medium TST-0001', 'mine.png')],
    ['k2', waiting('medium TST-0002', 'another.png')],
    ['k3', waiting('medium TST-0001', 'refused.exe', 'FALSE NEWS')],
  ] as never);
  await show([]);
  const rows = screen.getAllByRole('listitem');
  expect(rows.map((row) => row.querySelector('b')!.textContent)).toEqual([
    'mine.png',
    'refused.exe',
  ]);
  expect(rows[1]!.textContent).toContain('FALSE NEWS');
  fireEvent.click(rows[1]!.querySelector('button')!);
  expect(forgetOutgoing).toHaveBeenCalledWith('k3');
  // What came meanwhile is looked for again.
  outgoing.mockResolvedValue([]);
  await act(async () => void window.dispatchEvent(new Event('outbox-of-the-test')));
  expect(screen.queryByRole('listitem')).toBeNull();
});

test.each([
  ['image/png', 'img'],
  ['text/plain', 'iframe'],
  ['application/pdf', null],
])('opened, %s stands in %p', async (type, element) => {
  await show([paper(7, type)]);
  fireEvent.click(screen.getByText('paper 7'));
  const dialog = await screen.findByRole('dialog');
  const inside = ['img', 'iframe', 'object', 'embed'].filter((each) => dialog.querySelector(each));
  expect(inside).toEqual(element ? [element] : []);
  const link = dialog.querySelector('a')!;
  expect([link.getAttribute('href'), link.getAttribute('download')]).toEqual([
    '/api/papers/7',
    'paper 7',
  ]);
});

test('one that does not belong there is taken away, and the dialog closes', async () => {
  await show([paper(7, 'image/png'), paper(8, 'image/png', false)]);
  fireEvent.click(screen.getByText('paper 8'));
  const dialog = await screen.findByRole('dialog');
  const sent = serve();
  fireEvent.click(dialog.querySelectorAll('button')[0]!);
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  expect(
    sent.filter(({ method }) => method !== 'GET').map(({ method, path }) => [method, path]),
  ).toEqual([['DELETE', '/api/papers/8']]);
  expect(changesIn(sent)).toHaveLength(1);
});
