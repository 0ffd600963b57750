/** @jest-environment jsdom */
/** Files from everything kept: what Enter takes is of the list for the words that were typed. */
import { act, fireEvent, screen } from '@testing-library/react';
import { answerLate, renderWithQueries } from '../../../../tests/support/render';
import { FileSource } from '../file-source';

const file = (id: number, path: string) => ({ id, path, code: 'TST-0001', bytes: 10 });
const LISTS: Record<string, ReturnType<typeof file>[]> = {
  t: [file(1, 'TAR.TXT'), file(2, 'TIDES.TXT')],
  tides: [file(2, 'TIDES.TXT')],
};
// No part of it is out of sight here.
Element.prototype.scrollIntoView = () => undefined;
const added: (readonly number[])[] = [];

function show() {
  added.length = 0;
  const answer = answerLate((path) => {
    const word = new URL(path, 'http://localhost').searchParams.get('q') ?? '';
    return { found: LISTS[word] ?? [], copies: [] };
  });
  renderWithQueries(
    <FileSource onAdd={(files) => added.push(files)} onGather={jest.fn()} hasFolders folder="" />,
  );
  return answer;
}

const type = (value: string) =>
  fireEvent.change(screen.getByTestId('source'), { target: { value } });
const press = (key: string) => fireEvent.keyDown(screen.getByTestId('source'), { key });

test('of a list that is there Enter takes the chosen file, as often as it is pressed', async () => {
  const answer = show();
  type('t');
  await act(answer);
  press('ArrowDown');
  press('Enter');
  press('Enter');
  expect(added).toEqual([[2], [2]]);
});

test('pressed before the list has come, it waits for it, and takes nothing of the one before', async () => {
  const answer = show();
  type('t');
  await act(answer);
  type('tides');
  expect(screen.getByTestId('files-found').textContent).toContain('TAR.TXT');
  press('Enter');
  expect(added).toEqual([]);
  await act(answer);
  expect(added).toEqual([[2]]);
});

test('where other words are typed meanwhile, what was pressed is given up', async () => {
  const answer = show();
  type('tides');
  press('Enter');
  type('t');
  await act(answer);
  expect(added).toEqual([]);
});
