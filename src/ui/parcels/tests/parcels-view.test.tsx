/** @jest-environment jsdom */
/** Parcels in a list: what is in each, how long it takes, and when it went. */
import { screen } from '@testing-library/react';
import { answerWith, renderWithQueries } from '../../../../tests/support/render';
import { ParcelsView } from '../parcels-view';

const PARCEL = {
  ...{ id: 7, title: 'Fog logs', recipient: 'Harbour museum', notes: '', who: 'Tam Okoro' },
  ...{ withFlux: true, withFiles: false, madeAt: '2026-11-30T12:00:00Z', bytes: 600 << 20 },
  ...{ codes: ['2024/017/3', 'SKP-1'], media: 9, sendings: [] },
};
const SENDING = {
  ...{ id: 3, parcelId: 7, who: 'Tam Okoro', sentAt: '2026-11-30T13:00:00Z', bytes: 5, files: 12 },
  manifestSha256: 'c'.repeat(64),
};

async function show(parcels: object[], bytesPerSecond: number | null = null): Promise<string[]> {
  answerWith({ '/api/parcels': { parcels, bytesPerSecond } });
  renderWithQueries(<ParcelsView />);
  await screen.findByText(parcels.length === 0 ? /lot or a set/ : 'Fog logs');
  return [...screen.getByTestId('parcels').querySelectorAll('li p')].map(
    ({ textContent }) => textContent,
  );
}
const hrefs = () =>
  [...screen.getByTestId('parcels').querySelectorAll('a')].map((link) => link.getAttribute('href'));

test('where there is none, the way to one is told', async () => {
  expect(await show([])).toEqual([]);
});

test('its media lead to their dockets, more are counted, and it can be fetched', async () => {
  const told = await show([PARCEL]);
  expect(hrefs()).toEqual(['/media/2024%2F017%2F3', '/media/SKP-1', '/api/parcels/7']);
  expect(told[1]).toContain('7 more');
  expect(told.join('\n')).toContain('600 MiB');
});

test('how long it takes is told once one has gone', async () => {
  expect((await show([PARCEL])).join('\n')).not.toContain('minute');
  document.body.innerHTML = '';
  expect((await show([PARCEL], 1 << 20)).join('\n')).toContain('10 minutes');
});

test('when it went stands with what tells it from another', async () => {
  await show([{ ...PARCEL, sendings: [SENDING] }]);
  const [sent] = screen.getByTestId('parcels').querySelectorAll('li li');
  expect(sent!.textContent).toContain('c'.repeat(64));
  expect(sent!.textContent).toContain('12 files');
});
