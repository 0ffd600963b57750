/** @jest-environment jsdom */
/** Taking in: nothing begins before it was said whose it is, and nothing that waits is forgotten. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { renderWithQueries } from '../../../../tests/support/render';
import { Pickers } from './pickers';
import { takeInFiles } from './take-in';
import { useTakingIn } from './use-taking-in';
import { WhoseDialog } from './whose-dialog';

jest.mock('next/navigation', () => ({ useRouter: () => ({ push: jest.fn() }) }));
jest.mock('./take-in', () => ({ takeInFiles: jest.fn(async () => []) }));

function Page() {
  const taking = useTakingIn();
  return (
    <>
      <Pickers isBusy={false} taking={taking} />
      <button onClick={() => taking.drop(dropped(new File(['a'], 'a.img')))}>drop a</button>
      <button onClick={() => taking.drop(dropped(new File(['b'], 'b.img')))}>drop b</button>
      <WhoseDialog asked={taking.asked} facets={undefined} />
    </>
  );
}
const dropped = (file: File) => ({ files: [file], items: [] }) as unknown as DataTransfer;
const press = (name: string) => fireEvent.click(screen.getByText(name));
const answer = (lender: string) => {
  fireEvent.change(document.querySelector('[name=lender]')!, { target: { value: lender } });
  fireEvent.submit(document.querySelector('form')!);
};
const taken = () =>
  jest.mocked(takeInFiles).mock.calls.map(([files, whose]) => [files[0]!.name, whose.lender]);

beforeEach(() => {
  sessionStorage.clear();
  jest.clearAllMocks();
  renderWithQueries(<Page />);
});
afterEach(() => jest.restoreAllMocks());

test('files are chosen after it was said whose they are, and taken in as that', async () => {
  const choosing = jest.spyOn(HTMLInputElement.prototype, 'click');
  fireEvent.keyDown(window, { key: 't' });
  expect(choosing).not.toHaveBeenCalled();
  answer('The keeper');
  expect(choosing.mock.contexts).toEqual([screen.getByTestId('intake')]);
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  const files = [new File(['x'], 'x.img')];
  fireEvent.change(screen.getByTestId('intake'), { target: { files } });
  expect(taken()).toEqual([['x.img', 'The keeper']]);
});

test('what is dropped meanwhile waits with the rest', () => {
  press('drop a');
  press('drop b');
  expect(taken()).toEqual([]);
  answer('The keeper');
  expect(taken()).toEqual([
    ['a.img', 'The keeper'],
    ['b.img', 'The keeper'],
  ]);
});

test('where nothing may be kept in the browser, what was said is not lost', () => {
  jest.spyOn(Storage.prototype, 'setItem').mockImplementation(() => {
    throw new Error('not here');
  });
  press('drop a');
  answer('The keeper');
  expect(taken()).toEqual([['a.img', 'The keeper']]);
});

test('who leaves takes nothing in, then or with the next', () => {
  press('drop a');
  fireEvent.keyDown(screen.getByRole('dialog'), { key: 'Escape' });
  expect(screen.queryByRole('dialog')).toBeNull();
  press('drop b');
  answer('The keeper');
  expect(taken()).toEqual([['b.img', 'The keeper']]);
});
