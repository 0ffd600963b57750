/** @jest-environment jsdom */
/** Taking media out: what is asked of the server, in its codes and not in words of the page. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { EXTRACT_CONTENTS } from '@/server/states';
import { keepSent, renderWithQueries } from '../../../tests/support/render';
import { TakeOut } from './extracts';

interface Asked {
  copies: number[];
  what: (typeof EXTRACT_CONTENTS)[number];
  packed?: boolean;
  asText: boolean;
  acknowledgesQuarantine: boolean;
}

const FILES = 0;
const IMAGES = 1;
const PACKED = 2;

/** Opens the dialog, chooses, and gives what was sent; the last button of the dialog makes it. */
async function taken(way: number, asText = false): Promise<Asked> {
  const sent = keepSent();
  renderWithQueries(<TakeOut copies={[3, 5]} stays={0} />);
  fireEvent.click(screen.getByRole('button'));
  fireEvent.click(screen.getAllByRole('radio')[way]!);
  if (asText) fireEvent.click(screen.getByRole('checkbox'));
  const isExtract = ({ path }: { path: string }) => path === '/api/extracts';
  fireEvent.click(screen.getAllByRole('button').at(-1)!);
  await waitFor(() => expect(sent.filter(isExtract)).toHaveLength(1));
  return sent.find(isExtract)!.body as Asked;
}

test('files, as they are or with texts beside them', async () => {
  const asked = await taken(FILES, true);
  expect(EXTRACT_CONTENTS).toContain(asked.what);
  expect(asked).toMatchObject({ copies: [3, 5], what: 'files', asText: true });
  expect(asked.packed ?? false).toBe(false);
});

test('images take no texts', async () => {
  const asked = await taken(IMAGES);
  expect([asked.what, asked.asText, asked.packed ?? false]).toEqual(['images', false, false]);
});

test.each([
  [3, false],
  [4, true],
])('sounds, by choice %i', async (choice, packed) => {
  const asked = await taken(choice);
  expect([asked.what, asked.packed ?? false]).toEqual(['sounds', packed]);
  expect(asked.asText).toBe(false);
});

test('packed ones are images too', async () => {
  expect(await taken(PACKED)).toMatchObject({ what: 'images', packed: true });
});
