/** @jest-environment jsdom */
/** Blank images: of every kind, one or many; what is refused is said here and not on another page. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import { renderWithQueries } from '../../../../tests/support/render';
import { BlankImages } from '../blank-images';

const asked: string[] = [];
function serve(status = 200, error = ''): void {
  asked.splice(0);
  globalThis.fetch = (async (path: string) => {
    asked.push(path);
    if (path.startsWith('/api/layouts'))
      return { ok: true, status: 200, json: async () => [{ id: 'mfm-35-9x512' }] };
    return {
      ok: status < 400,
      status,
      headers: new Map([['content-disposition', 'attachment; filename="fifty.zip"']]),
      blob: async () => new Blob(['zip']),
      json: async () => ({ error }),
    };
  }) as unknown as typeof fetch;
}
const blanks = () => asked.filter((path) => path.startsWith('/api/blanks'));
const [kind, count, label] = [
  () => screen.getByRole<HTMLSelectElement>('combobox'),
  () => screen.getAllByRole<HTMLInputElement>('textbox')[0]!,
  () => screen.getAllByRole<HTMLInputElement>('textbox')[1]!,
];
const fill = (field: HTMLElement, value: string) => fireEvent.change(field, { target: { value } });
const make = () => screen.getByRole<HTMLButtonElement>('button');

test('every file system and every layout can be had', async () => {
  serve();
  renderWithQueries(<BlankImages />);
  await waitFor(() => expect(kind().options.length).toBe(BLANK_KINDS.length + 1));
  expect([...kind().options].at(-1)!.value).toBe('layout:mfm-35-9x512');
});

test('fifty with their label are one download under the name that the server gives', async () => {
  serve();
  const names: string[] = [];
  URL.createObjectURL = () => 'blob:made-up';
  URL.revokeObjectURL = () => undefined;
  jest.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (
    this: HTMLAnchorElement,
  ) {
    names.push(this.download);
  });
  renderWithQueries(<BlankImages />);
  fill(count(), '50');
  fill(label(), 'LOG');
  fireEvent.click(make());
  await waitFor(() => expect(names).toEqual(['fifty.zip']));
  expect(blanks()).toEqual(['/api/blanks?kind=fat12-720&count=50&label=LOG']);
});

test('a kind without a label takes none along', async () => {
  serve(422, 'x');
  renderWithQueries(<BlankImages />);
  fill(label(), 'LOG');
  fill(kind(), 'cpm-8');
  expect(label().disabled).toBe(true);
  fireEvent.click(make());
  await waitFor(() => expect(blanks()).toEqual(['/api/blanks?kind=cpm-8&count=1']));
});

test.each([
  ['12 disks', '12'],
  ['99999', '999'],
  ['-3', '3'],
])('"%s" counts as %s', (typed, kept) => {
  serve();
  renderWithQueries(<BlankImages />);
  fill(count(), typed);
  expect(count().value).toBe(kept);
});

test.each(['', '0'])('"%s" of them can’t be made', (typed) => {
  serve();
  renderWithQueries(<BlankImages />);
  fill(count(), typed);
  expect(make().disabled).toBe(true);
});

test('a refusal is said in its place', async () => {
  serve(422, 'A label has at most 11 characters.');
  renderWithQueries(<BlankImages />);
  fireEvent.click(make());
  expect((await screen.findByRole('alert')).textContent).toBe('A label has at most 11 characters.');
});
