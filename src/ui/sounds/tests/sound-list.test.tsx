/** @jest-environment jsdom */
/** The sounds of a copy as a list: their order, what is said of each, which one is chosen. */
import { fireEvent, render, screen, within } from '@testing-library/react';
import type { Sounds } from '../../data/queries';
import { SoundList, groupsOf, type Item } from '../sound-list';
import { TakeVolumeOut } from '../take-sounds-out';

type Folder = Sounds['volumes'][number]['folders'][number];

const sample = (name: string, position: number, over: Partial<Folder['samples'][0]> = {}) =>
  ({
    name,
    position,
    path: `A/FOG/${name}`,
    rateHz: 22_050,
    frames: 11_025,
    loops: [],
    problems: [],
    ...over,
  }) as unknown as Folder['samples'][0];
const program = (name: string, position: number, ...plays: (number | null)[]) =>
  ({
    name,
    position,
    regions: plays.map((each) => ({ sample: each })),
    problems: [],
  }) as unknown as Folder['programs'][0];
const LOOP = { startFrame: 0, endFrame: 9, fine: 0, hold: true, timeMs: 9999 };

const sounds = (over: Partial<Sounds> = {}): Sounds =>
  ({
    volumes: [
      {
        filesystem: 'sampler',
        problems: [],
        folders: [
          {
            path: ['A', 'FOG'],
            samples: [
              sample('HORN', 3, { loops: [LOOP] }),
              sample('BELL', 5, { problems: [{ message: 'odd' }] as never }),
            ],
            programs: [program('MOLE', 4, 3, null)],
          },
          { path: ['A', 'EMPTY'], samples: [], programs: [] },
        ],
      },
    ],
    files: [{ id: 9, path: 'SOUNDS/TIDE.WAV' }],
    tracks: [],
    ...over,
  }) as unknown as Sounds;

beforeAll(() => {
  Element.prototype.scrollIntoView = jest.fn();
});

test('programs stand before the samples of their volume, files behind all, empty volumes not at all', () => {
  const groups = groupsOf(sounds());
  expect(groups.map(({ items }) => items.map(({ kind, key }) => [kind, key]))).toEqual([
    [
      ['program', '0/4'],
      ['sample', '0/3'],
      ['sample', '0/5'],
    ],
    [['file', 'file 9']],
  ]);
  expect(groups[0]!.title).toBe('A / FOG');
});

test('a sample knows which programs play it; where its volume has none, that is no lack', () => {
  const playedBy = (groups: ReturnType<typeof groupsOf>) =>
    groups.flatMap(({ items }) =>
      items.flatMap((item) => (item.kind === 'sample' ? [item.playedBy] : [])),
    );
  expect(playedBy(groupsOf(sounds()))).toEqual([['MOLE'], []]);
  const [volume] = sounds().volumes;
  const [folder] = volume!.folders;
  const bare = { ...volume!, folders: [{ ...folder!, programs: [] }] };
  expect(playedBy(groupsOf(sounds({ volumes: [bare] })))).toEqual([null, null]);
});

test('samples of one place in two volumes are two', () => {
  const { volumes } = sounds();
  const keys = groupsOf(sounds({ volumes: [...volumes, ...volumes] })).flatMap(({ items }) =>
    items.map(({ key }) => key),
  );
  expect(new Set(keys).size).toBe(keys.length);
});

test('what is chosen is selected, and what is clicked is chosen', () => {
  const chosen: Item[] = [];
  const groups = groupsOf(sounds());
  render(<SoundList groups={groups} chosen="0/3" choose={(item) => chosen.push(item)} />);
  const options = screen.getAllByRole('option');
  expect(options.map((each) => each.getAttribute('aria-selected'))).toEqual([
    'false',
    'true',
    'false',
    'false',
  ]);
  fireEvent.click(options[2]!);
  expect(chosen.map(({ key }) => key)).toEqual(['0/5']);
});

test('a row says how long a sample is, that it loops, and that something of it is odd', () => {
  render(<SoundList groups={groupsOf(sounds())} chosen={null} choose={() => undefined} />);
  const group = screen.getByRole('group', { name: 'A / FOG' });
  const rows = within(group)
    .getAllByRole('option')
    .map((row) => row.textContent!);
  expect(rows.map((row) => row.includes('0.50'))).toEqual([false, true, true]);
  expect(rows.map((row) => row.split(' · ').length)).toEqual([2, 2, 2]);
  expect(screen.getAllByRole('option').at(-1)!.textContent).toBe('SOUNDS/TIDE.WAV');
});

test('a volume is taken out by its files, programs and samples; files of sound are no volume', () => {
  const { volumes, ...rest } = sounds();
  const [{ folders, ...volume }] = volumes as [(typeof volumes)[0]];
  const [first, ...others] = folders as [Folder];
  const held = {
    ...first,
    samples: first.samples.map((each, i) => ({ ...each, file: 40 + i })),
    programs: first.programs.map((each) => ({ ...each, file: 50 })),
  };
  const groups = groupsOf({ ...rest, volumes: [{ ...volume, folders: [held, ...others] }] });
  const taken: unknown[] = [];
  const take = (files: unknown) => void taken.push(files);
  render(
    <>
      {groups.map((group) => (
        <TakeVolumeOut key={group.title} {...{ groups, group, take }} isPending={false} />
      ))}
    </>,
  );
  fireEvent.click(screen.getByRole('button', { name: 'Take out A / FOG' }));
  expect(taken).toEqual([[50, 40, 41]]);
  expect(screen.getAllByRole('button')).toHaveLength(1);
});

test('of a partition of several volumes all can be taken out; a bank lies in none', () => {
  const group = (path: string[], files: number[]) => ({
    ...{ path, files, title: path.join(' / ') },
    items: [],
  });
  const groups = [
    group(['A', 'FOG'], [1, 2]),
    group(['A', 'BELLS'], [3]),
    group(['B', 'FOG'], [4]),
    group(['lower-1'], [5]),
  ];
  const taken: unknown[] = [];
  const take = (files: unknown) => void taken.push(files);
  const names = groups.map((each) => {
    const { unmount } = render(
      <TakeVolumeOut {...{ groups, group: each, take }} isPending={false} />,
    );
    const buttons = screen.getAllByRole('button');
    buttons.forEach((button) => fireEvent.click(button));
    const said = buttons.length;
    unmount();
    return said;
  });
  expect(names).toEqual([2, 2, 1, 1]);
  expect(taken).toEqual([[1, 2], [1, 2, 3], [3], [1, 2, 3], [4], [5]]);
});
