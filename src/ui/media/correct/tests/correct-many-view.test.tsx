/** @jest-environment jsdom */
/** Many corrected at once: who is chosen, what is asked to be seen, and what is then asked to be so. */
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../../../tests/support/render';
import { CorrectManyView } from '../correct-many-view';

const SEEN = 'f'.repeat(64);
const medium = (code: string, lender: string) => ({
  ...{ code, lender, title: `Disk ${code}`, lot: 'lot 1', setName: '' },
});
const found = {
  total: 3,
  media: [medium('AB-1', 'Skerow'), medium('AB-2', 'Skerow'), medium('AB-3', 'Orrin')],
};
const changes = [{ fact: 'lender', was: 'Skerow', now: 'Skerrow' }];
const shown = (over: object[] = []) => ({
  seen: SEEN,
  media: [
    { code: 'AB-1', title: 'Disk AB-1', changes, trouble: null },
    { code: 'AB-2', title: 'Disk AB-2', changes: [], trouble: null },
    ...over,
  ],
});

const bodies = (asked: Parameters<typeof changesIn>[0]) => changesIn(asked).map(({ body }) => body);

async function find(words: string) {
  fireEvent.change(screen.getByRole('searchbox'), { target: { value: words } });
  await waitFor(() => expect(screen.getByLabelText('AB-1')).toHaveProperty('checked', true));
}

async function lookAt(value: string) {
  await find('lot 1');
  fireEvent.click(screen.getByLabelText('AB-3'));
  fireEvent.change(screen.getByLabelText('is in truth'), { target: { value } });
  fireEvent.click(screen.getByRole('button', { name: /^Show what changes/ }));
  await screen.findByTestId('changes');
}

test('who was left is not asked for; what was seen is what is corrected', async () => {
  const asked = serve({ get: () => found, answer: shown() });
  renderWithQueries(<CorrectManyView />);
  await lookAt('Skerrow');
  const media = ['AB-1', 'AB-2'].map((code) => ({ code, change: { lender: 'Skerrow' } }));
  expect(bodies(asked)).toEqual([{ media, seen: null }]);
  const table = screen.getByTestId('changes');
  expect(table.querySelectorAll('tr')).toHaveLength(1);
  expect([
    within(table).getByText('Skerow').tagName,
    within(table).getByText('Skerrow').tagName,
  ]).toEqual(['DEL', 'B']);
  const again = serve({ get: () => found, answer: { corrected: 1 } });
  fireEvent.keyDown(document.body, { key: 'c' });
  expect((await screen.findByTestId('corrected')).textContent).toContain('1 medium corrected');
  expect(bodies(again)).toEqual([{ media, seen: SEEN }]);
  expect(screen.queryByTestId('changes')).toBeNull();
});

test('while something stands against it, nothing can be corrected', async () => {
  const trouble = { code: 'AB-9', title: null, changes: [], trouble: 'NOBODY IS CALLED SO' };
  const asked = serve({ get: () => found, answer: shown([trouble]) });
  renderWithQueries(<CorrectManyView />);
  await lookAt('Skerrow');
  const rows = [...screen.getByTestId('changes').querySelectorAll('tr')];
  expect(rows.map((row) => row.textContent!.slice(0, 4))).toEqual(['AB-9', 'AB-1']);
  expect(screen.getByText('NOBODY IS CALLED SO')).toBeTruthy();
  fireEvent.keyDown(document.body, { key: 'c' });
  expect(bodies(asked)).toHaveLength(1);
});

test('before anything is asked for nothing is chosen; then all, left and taken by one box', async () => {
  serve({ get: () => ({ ...found }) });
  renderWithQueries(<CorrectManyView />);
  await screen.findByText('Disk AB-3');
  const all = screen.getByLabelText('All of them');
  const show = () => screen.getByRole('button', { name: /^Show what changes/ });
  expect(show()).toHaveProperty('disabled', true);
  await find('lot 1');
  expect(show()).toHaveProperty('disabled', false);
  fireEvent.click(all);
  expect(show()).toHaveProperty('disabled', true);
  fireEvent.click(screen.getByLabelText('AB-2'));
  expect(show()).toHaveProperty('disabled', false);
  fireEvent.click(all);
  expect(screen.getByLabelText('AB-1')).toHaveProperty('checked', true);
});

const table = (text: string) => {
  const file = new File([text], 'media.csv', { type: 'text/csv' });
  // The page's own files have it; those of jsdom do not.
  Object.defineProperty(file, 'text', { value: async () => text });
  return { target: { files: [file] } };
};
const bring = (text: string) =>
  fireEvent.change(screen.getByLabelText('Bring a table back'), table(text));

test('a table is looked at as it is; with a cell that is odd nothing is asked', async () => {
  const asked = serve({ get: () => found, answer: shown() });
  renderWithQueries(<CorrectManyView />);
  await screen.findByText('Disk AB-3');
  bring('code,place\nAB-1,third');
  await screen.findByText(/^Row 2, place/);
  bring('no table');
  await screen.findByText(/no table with a column called code/);
  expect(bodies(asked)).toEqual([]);
  bring('code,place\nAB-1,3');
  await waitFor(() =>
    expect(bodies(asked)).toEqual([
      { media: [{ code: 'AB-1', change: { setNumber: 3 } }], seen: null },
    ]),
  );
});

test('what can’t be asked is told', async () => {
  serve({ get: () => found, answer: { error: 'NO STORE' }, status: 503 });
  renderWithQueries(<CorrectManyView />);
  await find('lot 1');
  fireEvent.click(screen.getByRole('button', { name: /^Show what changes/ }));
  expect((await screen.findByRole('alert')).textContent).toContain('NO STORE');
});
