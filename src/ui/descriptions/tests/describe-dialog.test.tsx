/** @jest-environment jsdom */
/** A description typed: only what is changed is sent, and what can't be stands at its field. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../../tests/support/render';
import { DescribeDialog, type Description } from '../describe-dialog';

const ACQUIRED = {
  from: 'E. Wren',
  on: '2019-05',
  how: 'gift',
  notes: '',
  agreement: null,
} as const;
const SAID: Description = {
  own: { elements: { creator: ['A. Rook', 'B. Jay'], notes: ['One.\n\nTwo.'] }, acquisition: null },
  elements: [
    { element: 'creator', values: ['A. Rook', 'B. Jay'], from: 'medium' },
    { element: 'subject', values: ['fog', 'lamps'], from: 'lot' },
  ],
  acquisition: { value: { ...ACQUIRED }, from: 'lot' },
  agreements: [],
};

function open(description = SAID) {
  const closed = jest.fn();
  renderWithQueries(
    <DescribeDialog
      open
      onClose={closed}
      kind="media"
      name="TST-0001"
      description={description}
      papers={[{ id: 7, name: 'agreement.txt' }]}
    />,
  );
  return closed;
}
const field = (name: string) => document.querySelector<HTMLTextAreaElement>(`[name="${name}"]`)!;
const type = (name: string, value: string) => fireEvent.change(field(name), { target: { value } });
const keep = () => fireEvent.submit(document.querySelector('form')!);
const path = '/api/descriptions/media/TST-0001';

test('what is said stands there, and what counts from elsewhere behind it', () => {
  open();
  expect(field('elements.creator').value).toBe('A. Rook\nB. Jay');
  expect(field('elements.subject').value).toBe('');
  expect(field('elements.subject').placeholder).toBe('fog · lamps');
  expect(field('acquisition.from')).toBeNull();
});

test('only what was changed is sent, a line a value', async () => {
  const sent = serve();
  const closed = open();
  type('elements.creator', 'A. Rook\r\n\n  C. Daw ');
  type('elements.date', '1987~');
  keep();
  await waitFor(() => expect(closed).toHaveBeenCalledTimes(1));
  expect(changesIn(sent)).toEqual([
    { path, body: { elements: { creator: ['A. Rook', 'C. Daw'], date: ['1987~'] } } },
  ]);
});

test('prose is one value with its lines, and what is emptied is said no more', async () => {
  const sent = serve();
  open();
  type('elements.notes', 'One.\n\nThree.');
  type('elements.creator', '');
  keep();
  await waitFor(() => expect(changesIn(sent)).toHaveLength(1));
  expect(changesIn(sent)[0]).toEqual({
    path,
    body: { elements: { creator: [], notes: ['One.\n\nThree.'] } },
  });
});

test('where nothing was changed nothing is sent', async () => {
  const sent = serve();
  const closed = open();
  type('elements.creator', 'A. Rook\nB. Jay\n');
  keep();
  await waitFor(() => expect(closed).toHaveBeenCalledTimes(1));
  expect(changesIn(sent)).toEqual([]);
});

test.each([
  ['elements.date', 'spring 1987'],
  ['elements.language', 'English'],
  ['elements.type', 'Disk'],
])('%s is refused at its field, and nothing is sent', async (name, value) => {
  const sent = serve();
  open();
  type(name, value);
  keep();
  await waitFor(() => expect(field(name).getAttribute('aria-invalid')).toBe('true'));
  expect(document.getElementById(field(name).getAttribute('aria-describedby')!)!.textContent).toBe(
    screen.getByRole('alert').textContent,
  );
  expect(changesIn(sent)).toEqual([]);
});

test('how it was acquired is said of this one only where that is ticked', async () => {
  const sent = serve();
  open();
  fireEvent.click(field('saysHow'));
  await waitFor(() => expect(field('acquisition.from')).not.toBeNull());
  type('acquisition.from', 'P. Heron');
  fireEvent.change(field('acquisition.agreement'), { target: { value: '7' } });
  keep();
  await waitFor(() => expect(changesIn(sent)).toHaveLength(1));
  expect(changesIn(sent)[0]!.body).toEqual({
    acquisition: { from: 'P. Heron', on: '', how: 'not-said', notes: '', agreement: 7 },
  });
});

test('unticked, it is that of its set or its lot again', async () => {
  const sent = serve();
  open({ ...SAID, own: { elements: {}, acquisition: { ...ACQUIRED } } });
  expect(field('acquisition.from').value).toBe('E. Wren');
  fireEvent.click(field('saysHow'));
  keep();
  await waitFor(() => expect(changesIn(sent)).toEqual([{ path, body: { acquisition: null } }]));
});

test('what somebody else says meanwhile is not undone', async () => {
  const sent = serve();
  const dialog = (description: Description) => (
    <DescribeDialog
      {...{ open: true, kind: 'media', name: 'TST-0001', papers: [], description }}
      onClose={jest.fn()}
    />
  );
  const { rerender } = renderWithQueries(dialog(SAID));
  type('elements.date', '1987');
  const elements = { ...SAID.own.elements, creator: ['C. Daw'], publisher: ['The press'] };
  rerender(dialog({ ...SAID, own: { elements, acquisition: { ...ACQUIRED } } }));
  keep();
  await waitFor(() => expect(changesIn(sent)).toHaveLength(1));
  expect(changesIn(sent)[0]!.body).toEqual({ elements: { date: ['1987'] } });
});

test('notes that are too long are refused at their field', async () => {
  const sent = serve();
  open({ ...SAID, own: { elements: {}, acquisition: { ...ACQUIRED } } });
  type('acquisition.notes', 'x'.repeat(2001));
  keep();
  await waitFor(() => expect(screen.getByRole('alert').textContent).toContain('2000'));
  expect(field('acquisition.notes').getAttribute('aria-invalid')).toBe('true');
  expect(changesIn(sent)).toEqual([]);
});

test('what the server refuses of one field stands at that field', async () => {
  serve({ status: 422, answer: { error: 'That paper is another’s.', field: 'agreement' } });
  open({ ...SAID, own: { elements: {}, acquisition: { ...ACQUIRED } } });
  type('acquisition.from', 'P. Heron');
  keep();
  await waitFor(() =>
    expect(field('acquisition.agreement').getAttribute('aria-invalid')).toBe('true'),
  );
});
