import { kindOf, planFolder } from './folder-plan';

const bytes = (...values: number[]) => Uint8Array.from(values);
const image = (path: string) => ({ path, head: bytes(0xeb, 0x3c, 0x90, 0, 0, 0, 1, 2, 3) });
const text = (path: string) => ({
  path,
  head: new TextEncoder().encode('Found in the boat house, third drawer.\r\n'),
});
const photo = (path: string) => ({ path, head: bytes(0xff, 0xd8, 0xff, 0xe0, 1, 2, 3) });

test('images of a folder are a set in their order; papers go to what they are named after, or to the set', () => {
  const { images, papers } = planFolder([
    image('boat house/disk 10.img'),
    image('boat house/disk 2.img'),
    photo('boat house/disk 2.jpg'),
    text('boat house/about.txt'),
    text('boat house/scans/list.txt'),
    image('single/horn.fsflux'),
    text('single/readme'),
    text('nothing/lost.txt'),
  ]);
  expect(images).toEqual([
    { path: 'boat house/disk 2.img', setName: 'boat house', setNumber: 1 },
    { path: 'boat house/disk 10.img', setName: 'boat house', setNumber: 2 },
    { path: 'single/horn.fsflux', setName: '', setNumber: null },
  ]);
  expect(papers).toEqual([
    { path: 'boat house/about.txt', image: null, setName: 'boat house' },
    { path: 'boat house/disk 2.jpg', image: 'boat house/disk 2.img', setName: null },
    { path: 'boat house/scans/list.txt', image: null, setName: 'boat house' },
    { path: 'nothing/lost.txt', image: null, setName: null },
    { path: 'single/readme', image: 'single/horn.fsflux', setName: null },
  ]);
});

test('what is near: papers above the folders of images, and single images without a folder', () => {
  expect(
    planFolder([text('box/list.txt'), image('box/a/1.img'), image('box/a/2.img')]).papers,
  ).toEqual([{ path: 'box/list.txt', image: null, setName: 'box/a' }]);
  expect(planFolder([image('one.img'), text('two.txt')])).toEqual({
    images: [{ path: 'one.img', setName: '', setNumber: null }],
    papers: [{ path: 'two.txt', image: 'one.img', setName: null }],
  });
  expect(planFolder([])).toEqual({ images: [], papers: [] });
});

test('what a file is, by its first bytes', () => {
  expect([
    kindOf(photo('a.img')),
    kindOf(text('a.img')),
    kindOf(image('a.jpg')),
    kindOf({ path: 'empty', head: bytes() }),
    kindOf({ path: 'zeros', head: new Uint8Array(64) }),
  ]).toEqual(['paper', 'paper', 'image', 'image', 'image']);
});
