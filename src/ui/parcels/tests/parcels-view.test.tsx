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
  answerWith({ '/api/parcels': { parcels, bytesPerSecond, came: [] } });
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

const CAME = {
  ...{ id: 4, name: 'their-bag.tar', who: 'Ines Ferro', files: 6, bytes: 900, lot: 'HM-7' },
  info: [{ label: 'External-Description', value: 'Disks of the lighthouse' }],
  ...{ beganAt: '2026-11-30T12:00:00Z', endedAt: '2026-11-30T12:01:00Z' },
  ...{ manifestSha256: 'd'.repeat(64), codes: ['SKP-2'], media: 1 },
  ...{ leftOver: [], moreLeftOver: 0, isKept: false },
};

async function showCame(came: object) {
  answerWith({ '/api/parcels': { parcels: [], bytesPerSecond: null, came: [came] } });
  renderWithQueries(<ParcelsView />);
  await screen.findByRole('heading', { name: 'Disks of the lighthouse' });
  const list = screen.getByTestId('came-bags');
  return {
    text: list.textContent,
    hrefs: [...list.querySelectorAll('a')].map((link) => link.getAttribute('href')),
  };
}

test('a bag that came leads to its media, and says what it says of itself', async () => {
  const { text, hrefs: links } = await showCame(CAME);
  expect(links).toEqual(['/media/SKP-2']);
  expect(text).toContain('HM-7');
  expect(text).toContain('d'.repeat(64));
  expect(text).toContain('External-Description');
});

test('what became nothing is named, and the bag can be fetched for it', async () => {
  const more = { leftOver: ['notes.bin'], moreLeftOver: 3, isKept: true };
  const { text, hrefs: links } = await showCame({ ...CAME, ...more });
  expect(links).toEqual(['/media/SKP-2', '/api/parcels/came/4']);
  expect(text).toContain('notes.bin');
  expect(text).toContain('3 more');
});
