/** @jest-environment jsdom */
/** The rate of what does not say its own: tried for one medium, kept when that is asked. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../../tests/support/render';
import { RateChoice, atRate, useRate } from '../rate-choice';

const SAID = { rateHz: 22_050, rateAssumed: false };
const ASSUMED = { rateHz: 29_411, rateAssumed: true };

/** As a page has it: the rates at which one sound that says its own and one that does not are heard. */
function Page({ copyId }: { copyId: number }) {
  const rate = useRate(copyId);
  return (
    <>
      <p>{[SAID, ASSUMED].map((sample) => atRate(sample, rate).rateHz).join(' and ')}</p>
      <RateChoice rateHz={atRate(ASSUMED, rate).rateHz} rate={rate} />
    </>
  );
}

const choose = (rateHz: number) =>
  fireEvent.change(screen.getByRole('combobox'), { target: { value: String(rateHz) } });

test('it is tried at once, for what is assumed alone, and kept only when that is asked', async () => {
  const paths = serve({ answer: { ok: true } });
  renderWithQueries(<Page copyId={3} />);
  screen.getByText('22050 and 29411');
  expect(screen.queryByRole('button')).toBeNull();
  choose(15_000);
  screen.getByText('22050 and 15000');
  expect(changesIn(paths)).toEqual([]);
  fireEvent.click(screen.getByRole('button'));
  await waitFor(() =>
    expect(changesIn(paths)).toEqual([{ path: '/api/copies/3/rate', body: { rateHz: 15_000 } }]),
  );
  // It is said to be kept, until another is tried.
  await screen.findByRole('status');
  expect(screen.queryByRole('button')).toBeNull();
  choose(8000);
  expect(screen.queryByRole('status')).toBeNull();
  screen.getByRole('button');
});

test('what was tried for one medium is not for another', () => {
  serve({ answer: { ok: true } });
  const { rerender } = renderWithQueries(<Page copyId={3} />);
  choose(8000);
  rerender(<Page copyId={4} />);
  screen.getByText('22050 and 29411');
  expect(screen.queryByRole('button')).toBeNull();
});

test('what is refused is told', async () => {
  serve({ answer: { error: 'NO STORE' }, status: 503 });
  renderWithQueries(<Page copyId={3} />);
  choose(8000);
  fireEvent.click(screen.getByRole('button'));
  expect((await screen.findByRole('alert')).textContent).toContain('NO STORE');
});
