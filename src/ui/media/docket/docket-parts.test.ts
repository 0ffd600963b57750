/** What a docket says of each of its parts, and in its headline. */
import type { DocketData } from '../../data/queries';
import { headline, partsOf } from './docket-parts';

const tally = (more: object = {}) => ({
  firm: 1440,
  mended: 0,
  doubtful: 0,
  lost: 0,
  unread: 0,
  ...more,
});
const volume = (more: object = {}) => ({
  inside: null,
  view: null,
  liveFiles: 7,
  hurtFiles: 0,
  problems: [],
  ...more,
});
const docket = (more: object = {}): DocketData =>
  ({
    medium: { code: 'TST-0001', condition: '', isBlank: false },
    description: { elements: [] },
    papers: [],
    sittings: [],
    copy: null,
    contents: [],
    writebacks: [],
    history: [{}, {}],
    ...more,
  }) as unknown as DocketData;
const states = (data: DocketData) =>
  Object.fromEntries(partsOf(data).map(({ id, state }) => [id, state]));

test('a medium that was only registered lacks everything but its history', () => {
  expect(states(docket())).toEqual({
    condition: 'missing',
    description: 'missing',
    papers: 'missing',
    sittings: 'missing',
    surface: 'missing',
    contents: 'missing',
    copies: 'missing',
    writebacks: 'missing',
    history: 'done',
  });
  expect(partsOf(docket()).find(({ id }) => id === 'history')!.count).toBe('2');
});

test('a medium that was read whole has it all', () => {
  const data = docket({
    medium: { code: 'TST-0001', condition: 'clean', isBlank: false },
    description: { elements: [{}] },
    papers: [{}],
    sittings: [{}, {}],
    copy: { tally: tally(), blocks: null },
    contents: [volume()],
    writebacks: [{ state: 'proved' }],
  });
  expect(new Set(Object.values(states(data)))).toEqual(new Set(['done']));
});

test.each([
  ['surface', { copy: { tally: tally({ doubtful: 1 }) } }],
  ['surface', { copy: { tally: tally({ unread: 1 }) } }],
  ['contents', { contents: [volume({ problems: [{}] })] }],
  ['writebacks', { writebacks: [{ state: 'proved' }, { state: 'failed' }] }],
  ['writebacks', { writebacks: [{ state: 'unproved' }] }],
])('%s is in doubt with %j', (part, more) => expect(states(docket(more))[part]).toBe('doubt'));

test('an image that came from elsewhere has no sitting, and lacks none', () => {
  const data = docket({ copy: { tally: null } });
  expect(states(data)).toMatchObject({ sittings: 'done', copies: 'done', surface: 'missing' });
});

test('files of images inside a volume, and of other views of it, are not counted twice', () => {
  const contents = [
    volume(),
    volume({ liveFiles: 90, inside: 'DISK.IMG' }),
    volume({ liveFiles: 7, view: 'joliet' }),
  ];
  const count = partsOf(docket({ contents })).find(({ id }) => id === 'contents')!.count;
  expect(count).toContain('7');
  expect(count).not.toMatch(/97|104|14/);
});

test.each([
  [{}, /TST-0001/],
  [{ copy: { tally: tally() }, contents: [volume()] }, /sector is sound; 7 files$/],
  [
    { copy: { tally: tally({ lost: 2 }) }, contents: [volume()] },
    /2 sectors are in doubt; 7 files, none/,
  ],
  [
    { copy: { tally: tally({ lost: 1 }) }, contents: [volume({ hurtFiles: 3 })] },
    /1 sector is in doubt; 7 files, 3 of them hurt/,
  ],
  [{ copy: { tally: tally({ lost: 1 }), blocks: 9 }, contents: [] }, /1 block is in doubt/],
])('the headline of %j', (more, told) => expect(headline(docket(more))).toMatch(told));

test('a blank is not called unread', () => {
  const blank = docket({ medium: { code: 'TST-0001', condition: '', isBlank: true } });
  expect(headline(blank)).not.toBe(headline(docket()));
});

test('a disc of nothing but sound lacks no volume', () => {
  const of = (...types: string[]) => {
    const blocks = { tracks: types.map((type) => ({ type })) };
    return headline(docket({ copy: { tally: tally(), blocks } }));
  };
  const [sound, data] = [of('AUDIO', 'AUDIO'), of('MODE1/2352', 'AUDIO')];
  expect([sound.includes('2 tracks'), sound.includes('volume')]).toEqual([true, false]);
  expect(data.includes('volume')).toBe(true);
});
