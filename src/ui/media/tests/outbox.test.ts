/** @jest-environment jsdom */
/** Papers on their way: kept apart though they are called alike, and forgotten one by one. */
import { forgetOutgoing, keepOutgoing, outgoing } from '../outbox';

const mockKept = new Map<string, unknown>();
jest.mock('idb-keyval', () => ({
  createStore: () => null,
  entries: async () => [...mockKept],
  set: async (key: string, value: unknown) => void mockKept.set(key, value),
  del: async (key: string) => void mockKept.delete(key),
}));
beforeEach(() => mockKept.clear());

const photo = (lastModified: number) => new File(['abc'], 'IMG_0001.JPG', { lastModified });

test('two of one name and size are two, and one dropped twice is one', async () => {
  await keepOutgoing('code=TST-0001', [photo(1), photo(2)]);
  await keepOutgoing('code=TST-0001', [photo(2)]);
  expect(await outgoing()).toHaveLength(2);
  await keepOutgoing('code=TST-0002', [photo(2)]);
  expect((await outgoing()).map(([, { owner }]) => owner)).toEqual([
    'code=TST-0001',
    'code=TST-0001',
    'code=TST-0002',
  ]);
});

test('what is forgotten leaves the others', async () => {
  await keepOutgoing('code=TST-0001', [photo(1), photo(2)]);
  const [[key]] = (await outgoing()) as [[string, unknown]];
  await forgetOutgoing(key);
  expect(await outgoing()).toHaveLength(1);
});
