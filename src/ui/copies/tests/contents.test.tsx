/** @jest-environment jsdom */
/** What is in the volumes of a copy: rows, marks, keys, further pages. */
import { asWritten } from '@/core/said';
import { fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import type { ComponentProps } from 'react';
import { answerWith } from '../../../../tests/support/render';
import { Contents } from '../contents';
import type { Entry } from '../entry-rows';

type Volume = ComponentProps<typeof Contents>['volumes'][number];

const entry = (id: number, path: string, more: Partial<Entry> = {}): Entry => ({
  id,
  position: id,
  path,
  kind: 'file',
  type: null,
  link: null,
  ownSize: null,
  bytes: 100 * id,
  sha256: null,
  modified: null,
  locked: false,
  deleted: false,
  recoverable: null,
  damaged: false,
  sectorsInDoubt: 0,
  doubts: [],
  extractable: false,
  ...more,
});

const volume = (entries: Entry[], more: Partial<Volume> = {}): Volume =>
  ({
    id: 7,
    filesystem: 'fat12',
    label: 'TIDES',
    partition: null,
    inside: null,
    view: null,
    offset: 0,
    length: 10_000,
    totalBytes: 10_000,
    freeBytes: 4_000,
    reasons: ['it says so'],
    problems: [],
    space: [],
    compared: null,
    next: null,
    entryCount: entries.length,
    entries,
    ...more,
  }) as Volume;

beforeAll(() => {
  Element.prototype.scrollIntoView = jest.fn();
});

function show(volumes: Volume[], more: Partial<ComponentProps<typeof Contents>> = {}) {
  const onChoose = jest.fn();
  const props = { copyId: 5, quarantined: false, chosen: null, volumes, onChoose, ...more };
  const { rerender } = render(<Contents {...props} />);
  return {
    onChoose,
    choose: (chosen: Entry) => rerender(<Contents {...props} chosen={chosen} />),
  };
}

const rowOf = (id: number) => document.querySelector<HTMLElement>(`[data-file="${id}"]`)!;

test('each file says what is doubtful of it, and may be taken out where anything is left', () => {
  show([
    volume([
      entry(1, 'A.TXT', { modified: '1990-02-03T04:05:06' }),
      entry(2, 'B.TXT', { sectorsInDoubt: 2, doubts: [{ offset: 512, length: 512 }] }),
      entry(3, 'C.TXT', { damaged: true }),
      entry(4, 'D.TXT', { deleted: true, recoverable: 'none' }),
      entry(5, 'E.TXT', { deleted: true, recoverable: 'whole' }),
      entry(6, 'F', { link: 'elsewhere' }),
    ]),
  ]);
  const cells = (id: number) =>
    within(rowOf(id))
      .getAllByRole('cell')
      .map(({ textContent }) => textContent);
  expect(cells(1).slice(3)).toEqual(['1990-02-03 04:05', '–', 'Extract']);
  expect(cells(2)[4]).toMatch(/^2 sectors at .*200.* …$/);
  expect(cells(3)[4]).toBe('chain damaged');
  expect(cells(4).slice(4)).toEqual(['deleted; nothing is left', '']);
  expect(cells(5).slice(4)).toEqual([
    'deleted; all of it is free still: very likely whole',
    'Extract',
  ]);
  expect(cells(6)[5]).toBe('link');
});

test('a folder is taken out whole where anything in it can be', () => {
  show(
    [
      volume([
        entry(1, 'LOGS', { kind: 'directory', extractable: true }),
        entry(2, 'EMPTY', { kind: 'directory' }),
      ]),
    ],
    { quarantined: true },
  );
  const links = screen.getAllByRole('link', { name: 'Extract folder' });
  expect(links.map((each) => each.getAttribute('href'))).toEqual([
    '/api/copies/5/zip?volume=7&folder=LOGS&knowing=1',
  ]);
  expect(screen.getByText('The volume holds no files.')).toBeTruthy();
});

test('J and K go through the files of all volumes, M marks the one that is chosen', () => {
  const [first, second] = [entry(1, 'A.TXT'), entry(2, 'INNER.TXT')];
  const volumes = [
    volume([first]),
    volume([second], { id: 8, inside: 'DISK.IMG', filesystem: 'd64' }),
  ];
  const { onChoose, choose } = show(volumes);
  fireEvent.keyDown(window, { key: 'j' });
  expect(onChoose).toHaveBeenLastCalledWith(first, volumes[0]);
  choose(first);
  fireEvent.keyDown(window, { key: 'j' });
  expect(onChoose).toHaveBeenLastCalledWith(second, volumes[1]);
  fireEvent.keyDown(window, { key: 'm' });
  expect(screen.getByRole('link', { name: 'Extract the 1 marked' }).getAttribute('href')).toBe(
    '/api/copies/5/zip?files=1',
  );
  fireEvent.keyDown(window, { key: 'm' });
  expect(screen.queryByTestId('marked')).toBeNull();
});

test('further entries are asked for page by page, until there are none', async () => {
  const asked = answerWith({
    '/api/copies/5/files?volume=7&after=1': { entries: [entry(2, 'B.TXT')], next: 2 },
    '/api/copies/5/files?volume=7&after=2': { entries: [entry(3, 'C.TXT')], next: null },
  });
  show([volume([entry(1, 'A.TXT')], { next: 1, entryCount: 3 })]);
  expect(screen.getByTestId('more-entries').textContent).toContain('1 of 3 are listed');
  fireEvent.click(screen.getByRole('button', { name: 'List more' }));
  await waitFor(() => expect(rowOf(2)).not.toBeNull());
  fireEvent.click(screen.getByRole('button', { name: 'List more' }));
  await waitFor(() => expect(rowOf(3)).not.toBeNull());
  expect(screen.queryByTestId('more-entries')).toBeNull();
  expect(asked).toHaveLength(2);
});

test('problems of a volume are told with their place', () => {
  show([
    volume([], {
      problems: [
        { kind: 'cross-linked', said: asWritten('Two files share it.'), offset: 1024 },
      ] as never,
    }),
  ]);
  expect(screen.getByText('cross linked').closest('li')!.textContent).toMatch(
    /^cross linked at .*400.*: Two files share it\.$/,
  );
});
