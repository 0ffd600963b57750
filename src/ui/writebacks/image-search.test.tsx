/** @jest-environment jsdom */
/** The image to write back: Enter takes none of a list that is of other words. */
import { act, fireEvent, screen } from '@testing-library/react';
import { FOUND_IMAGE } from '../../../tests/support/found-image';
import { answerLate, renderWithQueries } from '../../../tests/support/render';
import { ImageSearch } from './image-search';

const image = (id: number, code: string) => ({ ...FOUND_IMAGE, id, code });
const LISTS: Record<string, ReturnType<typeof image>[]> = {
  'TST-0': [image(1, 'TST-0001'), image(2, 'TST-0002')],
  'TST-0002': [image(2, 'TST-0002')],
};

test('a code typed fast and entered before its list is there chooses that code', async () => {
  const chosen: string[] = [];
  const answer = answerLate((path) => {
    const word = new URL(path, 'http://localhost').searchParams.get('q') ?? '';
    return { found: [], copies: LISTS[word] ?? [] };
  });
  renderWithQueries(<ImageSearch label="Image" onChoose={({ code }) => chosen.push(code)} />);
  const input = screen.getByTestId('image-choice');
  fireEvent.change(input, { target: { value: 'TST-0' } });
  await act(answer);
  fireEvent.change(input, { target: { value: 'TST-0002' } });
  fireEvent.keyDown(input, { key: 'Enter' });
  expect(chosen).toEqual([]);
  await act(answer);
  expect(chosen).toEqual(['TST-0002']);
});
