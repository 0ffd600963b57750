/**
 * @jest-environment jsdom
 */
import { useQuery } from '@tanstack/react-query';
import { act, render, screen, waitFor } from '@testing-library/react';
import { Live } from './live';
import { sittingQuery } from './queries';

/** The stream as the page sees it; a test says what comes. */
class FakeStream {
  static latest: FakeStream;
  onopen: (() => void) | null = null;
  onmessage: ((event: { data: string }) => void) | null = null;

  constructor() {
    FakeStream.latest = this;
  }

  addEventListener(): void {
    // No beat is sent.
  }

  close(): void {
    this.onopen = null;
  }
}

const track = (cylinder: number) => ({ cylinder, head: 0, tries: 1, sectors: [] });
const snapshot = (...cylinders: number[]) => ({
  id: 1,
  cylinders: 80,
  heads: 1,
  range: null,
  tally: { firm: 0, mended: 0, doubtful: 0, lost: 0, unread: 0 },
  tracks: cylinders.map(track),
});
const event = (cylinder: number) => ({
  data: JSON.stringify({
    kind: 'track',
    sittingId: 1,
    stationId: 1,
    ...track(cylinder),
    now: '',
    layout: null,
    secondsLeft: null,
  }),
});

function Cylinders() {
  const { data } = useQuery(sittingQuery(1));
  return (
    <p data-testid="cylinders">{data?.tracks.map(({ cylinder }) => cylinder).join() ?? '-'}</p>
  );
}
const shown = () => screen.getByTestId('cylinders').textContent;

test('a track that comes while an older answer is under way is shown all the same', async () => {
  const answers: ((body: object) => void)[] = [];
  globalThis.EventSource = FakeStream as never;
  globalThis.fetch = (() =>
    new Promise((resolve) =>
      answers.push((body) => resolve({ ok: true, status: 200, json: async () => body } as never)),
    )) as never;
  render(
    <Live>
      <Cylinders />
    </Live>,
  );
  await act(async () => answers.shift()!(snapshot(0)));
  await waitFor(() => expect(shown()).toBe('0'));
  // The page asks once more; while the answer is under way, a track is read.
  await act(async () => FakeStream.latest.onopen!());
  expect(answers).toHaveLength(1);
  await act(async () => FakeStream.latest.onmessage!(event(1)));
  await waitFor(() => expect(shown()).toBe('0,1'));
  await act(async () => answers.shift()!(snapshot(0)));
  // The answer was older than the track: what it hid is asked for again.
  await waitFor(() => expect(answers).toHaveLength(1), { timeout: 20_000 });
  await act(async () => answers.shift()!(snapshot(0, 1)));
  await waitFor(() => expect(shown()).toBe('0,1'));
});
