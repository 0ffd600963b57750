/** @jest-environment jsdom */
/** Bytes heard as they lie: what is asked, what a person sets of them, and how that is kept. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../../tests/support/render';
import { FIRST_SETTINGS } from '@/core/sound/raw-sound';
import { heardAsSet } from '../sound-source';
import { HearingView } from './hearing-view';

let mockAddress = '';
jest.mock('next/navigation', () => ({ useSearchParams: () => new URLSearchParams(mockAddress) }));
jest.mock('../sound-source', () => ({
  ...jest.requireActual('../sound-source'),
  bytesAt: jest.fn(async () => Uint8Array.of(0x80, 0xff, 0x80, 0x00)),
  heardAsSet: jest.fn(jest.requireActual('../sound-source').heardAsSet),
}));
jest.mock('../sound-panel', () => ({
  PlayedSound: ({ heard, playsAtOnce }: { heard: { rateHz: number }; playsAtOnce: boolean }) => (
    <p>{`heard at ${heard.rateHz}, ${playsAtOnce ? 'at once' : 'when asked'}`}</p>
  ),
}));

const hearing = (over: object = {}) => ({
  fileId: 12,
  from: 0,
  length: 4,
  name: 'LOGS/HORN.DAT',
  settings: null,
  ...over,
});
const docket = { medium: { code: 'SKP-0103', title: 'Lamp rota' }, copy: { id: 5 } };
const served = (data: object, status = 200) =>
  serve({
    get: (path: string) => (path.includes('/hearing?') ? data : docket),
    answer: status < 400 ? { ok: true } : { error: 'FALSE NEWS' },
    status,
  });
const settingsHeard = () => (heardAsSet as jest.Mock).mock.calls.at(-1)![1];

test('what nobody set is eight bits, silent until it is set or played, and heard anew at each change', async () => {
  mockAddress = 'file=12';
  const asked = served(hearing());
  renderWithQueries(<HearingView code="SKP-0103" />);
  await screen.findByText('4 bytes of LOGS/HORN.DAT, as sound');
  expect(asked.map(({ path }) => path)).toContain('/api/copies/5/hearing?file=12');
  await screen.findByText('heard at 22050, when asked');
  expect(settingsHeard()).toEqual(FIRST_SETTINGS);
  const order = screen.getByLabelText('Order') as HTMLSelectElement;
  expect(order.disabled).toBe(true);
  fireEvent.change(screen.getByLabelText('Values'), { target: { value: '16' } });
  expect(order.disabled).toBe(false);
  fireEvent.change(order, { target: { value: 'greatest' } });
  fireEvent.change(screen.getByLabelText('Told from'), { target: { value: 'zero' } });
  fireEvent.change(screen.getByLabelText('Channels'), { target: { value: '2' } });
  fireEvent.change(screen.getByLabelText('Rate'), { target: { value: '8363' } });
  fireEvent.change(screen.getByLabelText('Bytes left out before them'), { target: { value: '2' } });
  await screen.findByText('heard at 8363, at once');
  expect(settingsHeard()).toEqual({
    values: '16',
    isBigEndian: true,
    isSigned: true,
    channels: 2,
    rateHz: 8363,
    skip: 2,
  });
});

test('a rate that can be none leaves what is heard as it was', async () => {
  mockAddress = 'file=12';
  served(hearing());
  renderWithQueries(<HearingView code="SKP-0103" />);
  await screen.findByText('heard at 22050, when asked');
  for (const value of ['', 'fast', '0', '1e9'])
    fireEvent.change(screen.getByLabelText('Rate'), { target: { value } });
  expect(settingsHeard()).toEqual(FIRST_SETTINGS);
});

test('a stretch is kept by its place, and says that it is kept', async () => {
  mockAddress = 'from=512&length=4';
  const own = { ...FIRST_SETTINGS, rateHz: 11_025 };
  const asked = served(hearing({ fileId: null, name: null, from: 512, settings: own }));
  renderWithQueries(<HearingView code="SKP-0103" />);
  await screen.findByText('4 bytes of the image, from byte 512, as sound');
  expect(asked.map(({ path }) => path)).toContain('/api/copies/5/hearing?from=512&length=4');
  await screen.findByText('heard at 11025, when asked');
  const button = () => screen.getByRole('button', { name: /kept|Keep/ }) as HTMLButtonElement;
  expect(button().disabled).toBe(true);
  fireEvent.change(screen.getByLabelText('Rate'), { target: { value: '8000' } });
  fireEvent.click(button());
  await waitFor(() => expect(button().disabled).toBe(true));
  expect(changesIn(asked)).toEqual([
    {
      path: '/api/copies/5/hearing',
      body: { place: { from: 512, length: 4 }, settings: { ...own, rateHz: 8000 } },
    },
  ]);
});

test('what can not be kept is told', async () => {
  mockAddress = 'file=12';
  served(hearing(), 409);
  renderWithQueries(<HearingView code="SKP-0103" />);
  fireEvent.click(await screen.findByRole('button', { name: /Keep these settings/ }));
  expect((await screen.findByRole('alert')).textContent).toContain('FALSE NEWS');
});
