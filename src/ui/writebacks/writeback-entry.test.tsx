/** @jest-environment jsdom */
/** A write-back on the page: what is on a disk goes only for its code, typed by hand. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { keepSent, renderWithQueries } from '../../../tests/support/render';
import type { WritebackRow } from '../data/queries';
import { WritebackEntry } from './writeback-entry';

const row = (more: Partial<WritebackRow>): WritebackRow =>
  ({
    id: 5,
    from: 'image',
    state: 'writing',
    now: 'Writing.',
    stationId: 2,
    startedAt: '2026-11-28T10:00:00.000Z',
    endedAt: null,
    source: 'TST-0001',
    sourceTitle: 'Dues',
    target: 'TST-0900',
    layout: 'mfm-35-9x512',
    sha256: 'a'.repeat(64),
    fairCopyId: 3,
    machine: null,
    found: null,
    blocks: null,
    cancelled: false,
    outcome: null,
    outcomeNote: '',
    tracks: [],
    ...more,
  }) as WritebackRow;

const show = (more: Partial<WritebackRow>) => {
  const sent = keepSent();
  renderWithQueries(<WritebackEntry row={row(more)} />);
  return sent;
};
const links = () => screen.queryAllByRole('link').map((link) => link.getAttribute('href'));

test('what is on the disk goes for the code that was typed', async () => {
  const sent = show({ state: 'asks' });
  fireEvent.change(screen.getByRole('textbox'), { target: { value: 'TST-0900' } });
  fireEvent.submit(document.querySelector('form')!);
  await waitFor(() =>
    expect(sent).toEqual([{ path: '/api/writebacks/5', body: { typed: 'TST-0900' } }]),
  );
});

test('one under way can be given up, one that was cannot be again', async () => {
  const sent = show({});
  fireEvent.click(screen.getByRole('button'));
  await waitFor(() => expect(sent).toMatchObject([{ body: { giveUp: true } }]));
  document.body.replaceChildren();
  show({ cancelled: true });
  expect(screen.queryByRole('button')).toBeNull();
});

test('a certificate is there when it has ended, and with its trial when that was said', () => {
  show({ state: 'proved', endedAt: '2026-11-28T10:10:00.000Z' });
  expect(links()).toEqual([
    '/api/writebacks/5/certificate',
    '/api/writebacks/5/certificate?as=json',
  ]);
  document.body.replaceChildren();
  show({ state: 'proved', endedAt: '2026-11-28T10:10:00.000Z', outcome: 'works' as never });
  expect(links()).toContain('/api/writebacks/5/certificate?edition=latest');
});

test('one that was not proved can go to the next blank', async () => {
  const sent = show({ state: 'unproved', endedAt: '2026-11-28T10:10:00.000Z' });
  fireEvent.click(screen.getByRole('button'));
  await waitFor(() =>
    expect(sent).toEqual([
      {
        path: '/api/writebacks/queue',
        body: { fairCopyId: 3, stationId: 2, from: 'image', machine: null },
      },
    ]),
  );
});
