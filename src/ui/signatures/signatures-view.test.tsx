/** @jest-environment jsdom */
/** Signature rules: taken in from a file, refused with their places, removed. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../tests/support/render';
import { SignaturesView } from './signatures-view';

const RULE = { id: 'r1', name: 'A rule', where: 'boot', pattern: 'eb3c90', note: 'made up' };
const choose = (text: string) => {
  const file = new File([text], 'rules.json');
  Object.defineProperty(file, 'text', { value: async () => text });
  fireEvent.change(screen.getByTestId('rules-file'), { target: { files: [file] } });
};

test('a rule stands with its pattern in pairs, and a long one is cut', async () => {
  serve({ get: [RULE, { ...RULE, id: 'r2', pattern: 'ab'.repeat(40) }] });
  renderWithQueries(<SignaturesView />);
  await screen.findByText('EB 3C 90');
  const long = document.querySelectorAll('tbody tr')[1]!;
  expect(long.children[3]!.textContent).toBe(`${Array(24).fill('AB').join(' ')} …`);
  expect(long.children[3]!.getAttribute('title')).toBe('ab'.repeat(40));
});

test('a file is sent as it is, and the list asked for once more', async () => {
  const asked = serve({ get: [], answer: { rules: 2 } });
  renderWithQueries(<SignaturesView />);
  choose(JSON.stringify([RULE]));
  await waitFor(() => expect(asked.filter(({ method }) => method === 'GET')).toHaveLength(2));
  expect(changesIn(asked)).toEqual([{ path: '/api/rules', body: [RULE] }]);
});

test('what is no JSON is not sent, and said by the name of the file', async () => {
  const asked = serve({ get: [], answer: { rules: 2 } });
  renderWithQueries(<SignaturesView />);
  choose('{ not json');
  expect((await screen.findByRole('alert')).textContent).toContain('rules.json');
  expect(changesIn(asked)).toEqual([]);
});

test('a refusal names the places of the rules that are wrong, six of them at most', async () => {
  const fields = Object.fromEntries(Array.from({ length: 8 }, (_, i) => [`${i}.pattern`, 'odd']));
  serve({ get: [], answer: { error: 'odd', fields }, status: 422 });
  renderWithQueries(<SignaturesView />);
  choose('[]');
  const said = (await screen.findByRole('alert')).textContent!;
  expect(said).toContain('0.pattern: odd');
  expect(said).toContain('5.pattern: odd');
  expect(said).not.toContain('6.pattern');
});

test('a rule is removed by its id, whatever letters that has', async () => {
  const asked = serve({ get: [{ ...RULE, id: 'a/b c' }] });
  renderWithQueries(<SignaturesView />);
  fireEvent.click(await screen.findByRole('button', { name: 'Remove' }));
  await waitFor(() => expect(changesIn(asked)).toHaveLength(1));
  expect(asked).toContainEqual({ method: 'DELETE', path: '/api/rules/a%2Fb%20c', body: null });
});
