/** @jest-environment jsdom */
/** A receipt as it is filled in; what is due, what is out; where one medium is. */
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { say } from '@/messages';
import { answerWith, changesIn, renderWithQueries, serve } from '../../../tests/support/render';
import type { HandBacks } from '../data/paper-queries';
import type { DocketData } from '../data/queries';
import { HandBacksView } from './hand-backs-view';
import { MakeReceipt } from './make-receipt';
import { ReportView } from './report-view';
import { WhereItIs } from './where-it-is';

jest.mock('next/navigation', () => ({ useRouter: () => ({ push: () => {} }) }));

const fieldOf = (name: string) => document.querySelector<HTMLInputElement>(`[name=${name}]`)!;
const fill = (values: Record<string, string>) => {
  for (const [name, value] of Object.entries(values))
    fireEvent.change(fieldOf(name), { target: { value } });
};
const send = () => fireEvent.submit(fieldOf('person').closest('form')!);
const errors = () => screen.queryAllByRole('alert').map(({ textContent }) => textContent);

function openOf(of: Parameters<typeof MakeReceipt>[0]['of'], unread = 0) {
  renderWithQueries(
    <MakeReceipt name="lot 3" of={of} kinds={['handed-back', 'sent-out']} unread={unread} />,
  );
  fireEvent.click(screen.getByRole('button', { name: say.receipts.makeOne }));
}

test('all of a lot goes back, and the paper is to be opened', async () => {
  const sent = serve({ answer: { id: 12 } });
  openOf({ lot: 'lot 3' }, 4);
  expect(screen.getByText(say.receipts.unreadGo({ unread: 4 }))).toBeTruthy();
  fill({ day: '2026-11-30', person: 'R. Heron', notes: 'two boxes' });
  send();
  const link = await screen.findByRole('link', { name: say.receipts.openIt });
  expect(link.getAttribute('href')).toBe('/api/receipts/12');
  expect(changesIn(sent)).toEqual([
    {
      path: '/api/receipts',
      body: {
        ...{ kind: 'handed-back', day: '2026-11-30', person: 'R. Heron', backBy: '' },
        ...{ notes: 'two boxes', of: { lot: 'lot 3' } },
      },
    },
  ]);
});

test('some of a lot are named line by line, and what goes out has a day to be back', async () => {
  const sent = serve({ answer: { id: 13 } });
  openOf({ lot: 'lot 3' });
  fill({ kind: 'sent-out', day: '2026-11-30', person: 'workshop', codes: ' SKP-1 \n\nSKP-2\n' });
  await waitFor(() => expect(fieldOf('backBy')).toBeTruthy());
  fill({ backBy: '2026-11-01' });
  send();
  await waitFor(() => expect(errors()).toEqual([say.receipts.backBefore]));
  expect(changesIn(sent)).toEqual([]);
  fill({ backBy: '2026-12-24' });
  send();
  await waitFor(() => expect(changesIn(sent)).toHaveLength(1));
  expect(changesIn(sent)[0]).toMatchObject({
    body: { kind: 'sent-out', backBy: '2026-12-24', of: { codes: ['SKP-1', 'SKP-2'] } },
  });
});

test('without a name nothing is sent; what is refused is told', async () => {
  const sent = serve({ answer: { error: 'FALSE NEWS' }, status: 409 });
  openOf({ codes: ['SKP-1'] });
  expect(fieldOf('codes')).toBeNull();
  send();
  await waitFor(() => expect(errors()).toEqual([say.receipts.sayWho]));
  expect(changesIn(sent)).toEqual([]);
  fill({ person: 'R. Heron' });
  send();
  await waitFor(() => expect(errors()).toContain('FALSE NEWS'));
});

const DUE: HandBacks = {
  today: '2026-12-01',
  due: [
    { lot: 'lot 3', lender: 'school', by: '2026-11-20', all: 4, here: 3, sentOut: 1, unread: 2 },
    { lot: 'lot 4', lender: 'keeper', by: '2026-12-01', all: 2, here: 2, sentOut: 0, unread: 0 },
  ],
  out: [
    {
      ...{ id: 2, kind: 'sent-out', day: '2026-10-20', person: 'workshop', backBy: '' },
      ...{ lenders: 'school', notes: '', who: 'Tam Okoro', media: 3, out: 1 },
    },
  ],
  receipts: [],
};

test('what is overdue stands first and says by how much', async () => {
  answerWith({ '/api/receipts': DUE });
  renderWithQueries(<HandBacksView />);
  const rows = within(await screen.findByTestId('due'))
    .getAllByRole('row')
    .slice(1);
  expect(rows[0]!.textContent).toContain(say.receipts.overdue({ days: 11 }));
  expect(rows[0]!.textContent).toContain(say.receipts.hereOf(DUE.due[0]!));
  expect(rows[1]!.textContent).toContain(say.receipts.inDays({ days: 0 }));
  expect(screen.getByRole('heading', { level: 1 }).textContent).toBe(
    say.receipts.howMany({ due: 2, overdue: 1, out: 1 }),
  );
  const out = screen.getByTestId('sent-out').textContent;
  expect(out).toContain(say.receipts.noDay);
  expect(out).toContain(say.receipts.ofMedia({ count: 3, out: 1 }));
  expect(screen.getByText(say.receipts.noneGiven)).toBeTruthy();
});

test('with nothing due it says where a day is set', async () => {
  answerWith({ '/api/receipts': { ...DUE, due: [], out: [] } });
  renderWithQueries(<HandBacksView />);
  expect(await screen.findByText(say.receipts.nothingDue)).toBeTruthy();
});

const docket = (more: object): DocketData =>
  ({
    ...{ medium: { code: 'SKP-1', shelf: '' }, copy: null, station: null },
    ...{ whereabouts: { out: null, receipts: [] }, ...more },
  }) as unknown as DocketData;
const out = { receipt: 7, kind: 'sent-out', day: '2026-10-20', person: 'workshop', backBy: '' };

test.each([
  ['nobody noted', {}, say.receipts.shelfNotNoted],
  ['a shelf', { medium: { code: 'A', shelf: 'box 4' } }, say.receipts.onShelf({ shelf: 'box 4' })],
  ['a station', { station: 2 }, say.receipts.atStation({ station: 2 })],
  ['out', { whereabouts: { out, receipts: [] } }, say.receipts.isSentOut(out)],
  [
    'handed back',
    { whereabouts: { out: { ...out, kind: 'handed-back' }, receipts: [] } },
    say.receipts.isHandedBack(out),
  ],
])('a medium is where it is: %s', (_, more, words) => {
  renderWithQueries(<WhereItIs data={docket(more)} />);
  expect(screen.getByTestId('whereabouts').textContent).toBe(words);
  const isOut = 'whereabouts' in more;
  const label = isOut ? say.receipts.cameBack : say.receipts.makeOne;
  expect(screen.getByRole('button', { name: label })).toBeTruthy();
});

test('a report is a page of headings and facts, and a PDF', async () => {
  answerWith({
    '/api/lots/lot%203/report': {
      over: 'Report',
      head: 'lot 3',
      blocks: [
        { kind: 'text', text: 'two media', tone: 'plain' },
        { kind: 'heading', text: 'SKP-1' },
        { kind: 'facts', facts: [['Read', 'whole']] },
      ],
    },
  });
  renderWithQueries(<ReportView name="lot 3" />);
  expect((await screen.findByRole('heading', { level: 2 })).textContent).toBe('SKP-1');
  expect(screen.getByRole('definition').textContent).toBe('whole');
  expect(screen.getByRole('link', { name: say.receipts.asPdf }).getAttribute('href')).toBe(
    '/api/lots/lot%203/report?as=pdf',
  );
});
