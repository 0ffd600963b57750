/** @jest-environment jsdom */
/** A volume's listing: chosen by arrows, renamed, typed, dated, locked and taken off by keys. */
import { fireEvent, render, screen } from '@testing-library/react';
import type { AssemblyData } from '../../data/queries';
import { VolumeListing } from '../volume-listing';

type Entry = AssemblyData['entries'][number];
const file = (path: string, more: Partial<Entry> = {}): Entry => ({
  path,
  kind: 'file',
  bytes: 1500,
  locked: false,
  modified: null,
  digest: 'a'.repeat(64),
  change: null,
  was: null,
  cost: 2,
  ...more,
});
const ENTRIES = [
  file('LETTERS', { kind: 'directory', bytes: 0, cost: null }),
  file('LETTERS/A.TXT', { change: 'new' }),
  file('DUES.TXT', { change: 'other-name', was: 'LETTER.TXT', modified: '1988-05-01T10:11:12' }),
];
const volume = (more: Partial<AssemblyData> = {}): AssemblyData =>
  ({
    entries: ENTRIES,
    gone: [],
    room: { unit: 'cluster', unitBytes: 1024, total: 713, free: 700, entries: 112 },
    hasFolders: true,
    keeps: ['type', 'modified', 'locked'],
    ...more,
  }) as unknown as AssemblyData;

const onChoose = jest.fn();
const onEdit = jest.fn();
const onFolder = jest.fn();
const onUpload = jest.fn();
const show = (chosen: string | null, more: { data?: AssemblyData; folder?: string } = {}) =>
  render(
    <VolumeListing
      data={more.data ?? volume()}
      chosen={chosen}
      onChoose={onChoose}
      folder={more.folder ?? ''}
      onFolder={onFolder}
      onEdit={onEdit}
      onUpload={onUpload}
    />,
  );
const press = (key: string) => fireEvent.keyDown(window, { key });
const typeName = (text: string, key = 'Enter') => {
  fireEvent.change(screen.getByTestId('new-name'), { target: { value: text } });
  fireEvent.keyDown(screen.getByTestId('new-name'), { key });
};

beforeEach(() => [onChoose, onEdit, onFolder, onUpload].forEach((mock) => mock.mockReset()));

test.each([
  [null, 'ArrowDown', 'LETTERS'],
  ['LETTERS', 'ArrowDown', 'LETTERS/A.TXT'],
  ['DUES.TXT', 'ArrowDown', 'DUES.TXT'],
  ['LETTERS/A.TXT', 'ArrowUp', 'LETTERS'],
  ['LETTERS', 'ArrowUp', 'LETTERS'],
  ['NOT.THERE', 'ArrowUp', 'LETTERS'],
])('from %s %s goes to %s', (chosen, key, to) => {
  show(chosen);
  press(key);
  expect(onChoose.mock.calls).toEqual([[to]]);
});

test('a name is asked for with the old one in it, and given with Enter', () => {
  show('LETTERS/A.TXT');
  press('n');
  expect((screen.getByTestId('new-name') as HTMLInputElement).value).toBe('A.TXT');
  typeName('  B.TXT ');
  expect(onEdit.mock.calls).toEqual([[{ kind: 'rename', path: 'LETTERS/A.TXT', name: 'B.TXT' }]]);
  expect(screen.queryByTestId('new-name')).toBeNull();
});

test('Escape leaves it, and an empty name changes nothing', () => {
  show('DUES.TXT');
  press('n');
  typeName('B.TXT', 'Escape');
  press('n');
  typeName('   ');
  expect(onEdit).not.toHaveBeenCalled();
});

test('a folder is made where files go', () => {
  show(null, { folder: 'LETTERS' });
  press('f');
  typeName('1988');
  expect(onEdit.mock.calls).toEqual([[{ kind: 'folder', path: 'LETTERS/1988' }]]);
});

test('a type and a date are given to files, a day alone at midnight', () => {
  show('DUES.TXT');
  press('y');
  typeName('04');
  press('a');
  expect((screen.getByTestId('new-name') as HTMLInputElement).value).toBe('1988-05-01 10:11:12');
  typeName('1989-01-02');
  press('a');
  typeName('1989-01-02 03:04:05');
  expect(onEdit.mock.calls.map(([edit]) => edit)).toEqual([
    { kind: 'attributes', path: 'DUES.TXT', type: '04' },
    { kind: 'attributes', path: 'DUES.TXT', modified: '1989-01-02T00:00:00' },
    { kind: 'attributes', path: 'DUES.TXT', modified: '1989-01-02T03:04:05' },
  ]);
});

test('a lock is turned, and what is taken off gives way to the next', () => {
  show('LETTERS/A.TXT');
  press('l');
  press('x');
  expect(onEdit.mock.calls.map(([edit]) => edit)).toEqual([
    { kind: 'attributes', path: 'LETTERS/A.TXT', locked: true },
    { kind: 'remove', path: 'LETTERS/A.TXT' },
  ]);
  expect(onChoose.mock.calls).toEqual([['DUES.TXT']]);
});

test('a folder has no type, no date and no lock, but files can go into it', () => {
  show('LETTERS');
  press('y');
  press('a');
  press('l');
  expect(onEdit).not.toHaveBeenCalled();
  press('Enter');
  expect(onFolder.mock.calls).toEqual([['LETTERS']]);
});

test('the folder that files go into is left again', () => {
  show('LETTERS', { folder: 'LETTERS' });
  press('Enter');
  expect(onFolder.mock.calls).toEqual([['']]);
});

test('a system offers only what it keeps', () => {
  show('DUES.TXT', { data: volume({ keeps: [], hasFolders: false }) });
  for (const key of ['f', 'y', 'a', 'l']) press(key);
  expect(screen.queryByTestId('new-name')).toBeNull();
  expect(onEdit).not.toHaveBeenCalled();
});

test('what is settled is looked at and not changed', () => {
  render(
    <VolumeListing
      data={volume({ gone: ['OLD.TXT'] })}
      chosen="DUES.TXT"
      onChoose={onChoose}
      folder=""
      onFolder={onFolder}
      onEdit={null}
      onUpload={onUpload}
    />,
  );
  expect(screen.queryAllByRole('button')).toEqual([]);
  press('ArrowUp');
  expect(onChoose.mock.calls).toEqual([['LETTERS/A.TXT']]);
  expect(document.querySelector('tr:last-child td')!.textContent).toBe('OLD.TXT');
});

test('files of this computer go on as they were chosen', () => {
  show(null);
  const files = [new File(['a'], 'a.txt'), new File(['b'], 'b.txt')];
  fireEvent.change(screen.getByTestId('from-desktop'), { target: { files } });
  expect(onUpload.mock.calls).toEqual([[files]]);
});
