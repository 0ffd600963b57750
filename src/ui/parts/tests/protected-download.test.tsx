/** @jest-environment jsdom */
/** A download under a passphrase: asked for twice, sent by a form, and kept nowhere on the page. */
import { act, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { ProtectedDownload } from '../protected-download';

function open() {
  render(<ProtectedDownload href="/api/extracts/4" name="extract-4.zip" />);
  fireEvent.click(screen.getByRole('button'));
  return screen.getByRole('dialog');
}
const fields = () => [...document.querySelectorAll<HTMLInputElement>('input[type="password"]')];
const type = (...texts: string[]) =>
  texts.forEach((text, i) => fireEvent.change(fields()[i]!, { target: { value: text } }));
const submit = () => document.querySelector<HTMLButtonElement>('button[type="submit"]')!;
const trouble = () => screen.getByRole('alert').textContent;

test.each([
  ['nothing', '', '', false, false],
  ['one that is too short', 'seven77', '', true, false],
  ['two that are not the same', 'eight888', 'eight889', true, false],
  ['the same twice, too short', 'short', 'short', true, false],
  ['the first alone', 'eight888', '', false, false],
  ['the same twice', 'eight888', 'eight888', false, true],
])('%s', (_, first, second, isTroubled, isReady) => {
  open();
  type(first, second);
  expect([trouble() !== '', !submit().disabled]).toEqual([isTroubled, isReady]);
});

test('it goes to the server with the form, into a frame of its own', () => {
  const dialog = open();
  type('eight888', 'eight888');
  const form = dialog.querySelector('form')!;
  expect([form.method, form.getAttribute('action')]).toEqual(['post', '/api/extracts/4']);
  expect(document.querySelector('iframe')!.getAttribute('name')).toBe(form.target);
  // The second is only for whoever types: the server is told once.
  expect(fields().map((field) => field.name)).toEqual(['passphrase', '']);
});

test('a form that is not ready does not go, though Enter is pressed', () => {
  const form = open().querySelector('form')!;
  type('eight888', 'other');
  expect(fireEvent.submit(form)).toBe(false);
});

test('once it has gone nothing that was typed is left', async () => {
  const form = open().querySelector('form')!;
  type('eight888', 'eight888');
  // The page of the tests goes nowhere.
  form.addEventListener('submit', (event) => event.preventDefault());
  act(() => void fireEvent.submit(form));
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  fireEvent.click(screen.getByRole('button'));
  expect(fields().map((field) => field.value)).toEqual(['', '']);
});

test('left, it forgets what was typed', async () => {
  open();
  type('eight888', 'eight');
  fireEvent.keyDown(screen.getByRole('dialog'), { key: 'Escape' });
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  fireEvent.click(screen.getByRole('button'));
  expect(fields().map((field) => field.value)).toEqual(['', '']);
});

test('what is answered in place of the download is told in the dialog, which opens again', async () => {
  render(<ProtectedDownload href="/api/extracts/4" name="extract-4.zip" />);
  const frame = document.querySelector('iframe')!;
  frame.contentDocument!.body.textContent = '';
  fireEvent.load(frame);
  expect(screen.queryByRole('dialog')).toBeNull();
  frame.contentDocument!.body.textContent = '{"error":"It stays in the house.","code":"x"}';
  fireEvent.load(frame);
  const dialog = await screen.findByRole('dialog');
  expect(dialog.textContent).toContain('It stays in the house.');
});
