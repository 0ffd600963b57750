/** @jest-environment jsdom */
/** What is kept, what was found, and what it may be narrowed by. */
import { fireEvent, render, screen, within } from '@testing-library/react';
import type { Holdings } from '../data/queries';
import { Facets } from './facets';
import { FoundFiles, FoundTexts } from './found-files';
import { HoldingsTable } from './holdings-table';

const held = (
  code: string,
  more: Partial<Holdings['copies'][number]> = {},
): Holdings['copies'][number] => ({
  id: 1,
  mediumId: 1,
  isHeld: false,
  code,
  title: `Title of ${code}`,
  labelText: '',
  lender: '',
  lot: '',
  form: '3.5',
  layout: null,
  sha256: 'a1b2c3d4e5f6'.padEnd(64, '0'),
  bytes: 737_280,
  tally: null,
  volumes: [],
  fileCount: 0,
  findings: 0,
  sameAs: [],
  copyOf: null,
  ...more,
});

const cellsOf = (code: string) =>
  within(screen.getByRole('link', { name: code }).closest('tr')!)
    .getAllByRole('cell')
    .map(({ textContent }) => textContent);

test('a medium tells its volumes, its doubts, and what it is the same as', () => {
  render(
    <HoldingsTable
      copies={[
        held('TST-0001'),
        held('TST-0002', {
          id: 2,
          lender: 'a keeper',
          fileCount: 12_345,
          tally: { firm: 1, mended: 0, doubtful: 2, lost: 3, unread: 4 },
          volumes: [
            { id: 1, filesystem: 'fat12', label: 'DUES' },
            { id: 2, filesystem: 'd64', label: null },
          ],
          findings: 1,
          sameAs: ['TST-0009'],
          copyOf: 'TST-0008',
        }),
      ]}
    />,
  );
  expect(cellsOf('TST-0001').slice(2)).toEqual([
    'not known',
    'none found',
    '0',
    '–',
    'a1b2c3d4e5f6',
    '',
  ]);
  const [, title, lender, volumes, files, doubt] = cellsOf('TST-0002');
  expect(title).toBe('Title of TST-0002copy of TST-0008in quarantine');
  expect([lender, volumes, doubt]).toEqual(['a keeper', 'FAT12 “DUES”, D64', '9']);
  expect(files!.replace(/\D/g, '')).toBe('12345');
  expect(screen.getByRole('link', { name: 'TST-0009' }).getAttribute('href')).toBe(
    '/media/TST-0009',
  );
});

test('a file in quarantine leads to its docket, any other is taken out at once', () => {
  const file = {
    bytes: 10,
    sha256: null,
    modified: null,
    deleted: false,
    inside: null,
    code: 'TST-0001',
  };
  render(
    <FoundFiles
      filesFound={3_000}
      found={[
        { ...file, id: 4, path: 'A.TXT', quarantined: false, inside: 'DISK.IMG' },
        { ...file, id: 5, path: 'B.TXT', quarantined: true, deleted: true },
      ]}
    />,
  );
  const links = screen
    .getAllByRole('row')
    .map((row) => within(row).getAllByRole('link').at(-1)!.getAttribute('href'));
  expect(links).toEqual(['/api/files/4', '/media/TST-0001#contents']);
  expect(screen.getByRole('heading').textContent!.replace(/\D/g, '')).toBe('23000');
});

test('what a file says stands with its passage', () => {
  render(
    <FoundTexts texts={[{ id: 4, path: 'A.TXT', code: 'TST-0001', excerpt: 'the north mole' }]} />,
  );
  expect(screen.getByTestId('texts').textContent).toBe('TST-0001A.TXT… the north mole …');
});

describe('facets', () => {
  const facets: Holdings['facets'] = {
    form: [
      { value: '3.5', count: 7 },
      { value: 'optical-disc', count: 1 },
    ],
    filesystem: Array.from({ length: 9 }, (_, i) => ({ value: `fs${i}`, count: 9 - i })),
    layout: [{ value: 'only-one', count: 8 }],
    lender: [],
    lot: [],
    state: [],
  };

  test('those with a choice are shown, long ones folded', () => {
    render(<Facets facets={facets} asked={{ q: '' }} onAsk={() => undefined} />);
    expect(screen.queryByText('only-one')).toBeNull();
    expect(screen.getByText('3 more')).toBeTruthy();
    expect(screen.getByRole('button', { name: /^FS0/ })).toBeTruthy();
  });

  test('a value is chosen and let go, and begins from the top', () => {
    const onAsk = jest.fn();
    const { rerender } = render(
      <Facets facets={facets} asked={{ q: 'tide', more: 3 }} onAsk={onAsk} />,
    );
    fireEvent.click(screen.getByRole('button', { name: /^optical/ }));
    expect(onAsk).toHaveBeenLastCalledWith({ q: 'tide', form: 'optical-disc' });
    rerender(<Facets facets={facets} asked={{ q: 'tide', form: 'optical-disc' }} onAsk={onAsk} />);
    const chosen = screen.getByRole('button', { pressed: true });
    fireEvent.click(chosen);
    expect(onAsk).toHaveBeenLastCalledWith({ q: 'tide' });
    fireEvent.click(screen.getByRole('button', { name: 'Show all again' }));
    expect(onAsk).toHaveBeenLastCalledWith({ q: 'tide' });
  });
});
