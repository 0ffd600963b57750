/** @jest-environment jsdom */
/** The images of a card: taken from what was found, in their order, and off again. */
import { fireEvent, render, screen, within } from '@testing-library/react';
import { useState } from 'react';
import { CardImages, type Copy } from './card-images';

const copy = (id: number, bytes = 1000) =>
  ({ id, code: `TST-000${id}`, title: `Box ${id}`, bytes }) as Copy;

function Card({ found }: { found: readonly Copy[] }) {
  const [typed, setTyped] = useState('');
  const [chosen, setChosen] = useState<readonly Copy[]>([]);
  return (
    <CardImages
      typed={typed}
      setTyped={setTyped}
      // As the page has it: what is chosen is not found again.
      found={found.filter(({ id }) => !chosen.some((each) => each.id === id))}
      chosen={chosen}
      setChosen={setChosen}
    />
  );
}

const found = () => within(screen.getByTestId('card-found')).queryAllByRole('button');
const onCard = () =>
  within(screen.getByTestId('card-chosen'))
    .queryAllByRole('listitem')
    .map((item) => /TST-\d+/.exec(item.textContent!)![0]);

test('one after the other, in the order in which they were taken', () => {
  render(<Card found={[copy(1), copy(2), copy(3)]} />);
  fireEvent.click(found()[2]!);
  fireEvent.click(found()[0]!);
  expect(onCard()).toEqual(['TST-0003', 'TST-0001']);
});

test('one that is taken off leaves the others as they were, and is found again', () => {
  render(<Card found={[copy(1), copy(2), copy(3)]} />);
  for (const button of found()) fireEvent.click(button);
  expect(found()).toEqual([]);
  fireEvent.click(within(screen.getByTestId('card-chosen')).getAllByRole('button')[1]!);
  expect(onCard()).toEqual(['TST-0001', 'TST-0003']);
  expect(found()).toHaveLength(1);
});

test('all that was found at once, their bytes counted, and none of them again', () => {
  render(<Card found={[copy(1, 737_280), copy(2, 174_848)]} />);
  fireEvent.click(screen.getAllByRole('button')[0]!);
  expect(onCard()).toEqual(['TST-0001', 'TST-0002']);
  const count = screen.getByText(/912.128/);
  fireEvent.click(within(count).getByRole('button'));
  expect(onCard()).toEqual([]);
});

test('of very many the first hundred are offered, and all can be taken', () => {
  const many = Array.from({ length: 250 }, (_, i) => copy(1000 + i));
  render(<Card found={many} />);
  expect(found()).toHaveLength(100);
  fireEvent.click(screen.getAllByRole('button')[0]!);
  expect(onCard()).toHaveLength(250);
});

test('what is typed is asked for', () => {
  render(<Card found={[]} />);
  const search = screen.getByTestId<HTMLInputElement>('card-search');
  fireEvent.change(search, { target: { value: 'tides' } });
  expect(search.value).toBe('tides');
  expect(screen.queryAllByRole('button')).toEqual([]);
});
