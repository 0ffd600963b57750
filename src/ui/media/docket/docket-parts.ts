'use client';
/** What a docket's index and headline say of each part: done, in doubt, or missing. */
import { isOnlySound } from '@/core/optical/disc-tracks';
import { type DocketData } from '@/ui/data/queries';
import { say } from '@/messages';

export interface Part {
  id: string;
  name: string;
  count: string;
  state: 'done' | 'doubt' | 'missing';
}

/** Of the volumes that are listed, not of images inside them or of other directories. */
const totalOf = (contents: DocketData['contents'], key: 'liveFiles' | 'hurtFiles') =>
  contents.reduce(
    (sum, volume) => (volume.inside === null && volume.view === null ? sum + volume[key] : sum),
    0,
  );

/** What the index says of each part: done, in doubt, or missing. */
const countOf = (list: readonly unknown[]) =>
  list.length === 0 ? say.docket.none : String(list.length);

type State = Part['state'];

const has = (there: boolean): State => (there ? 'done' : 'missing');

function surfacePart({ copy }: DocketData): Omit<Part, 'id' | 'name'> {
  if (!copy?.tally) return { count: say.docket.none, state: 'missing' };
  const { doubtful, lost, unread } = copy.tally;
  const doubt = doubtful + lost + unread;
  return { count: say.docket.text({ doubt }), state: doubt > 0 ? 'doubt' : 'done' };
}

function contentsPart({ contents }: DocketData): Omit<Part, 'id' | 'name'> {
  const files = totalOf(contents, 'liveFiles');
  const count = say.docket.text2({ contents: contents.length, files });
  if (contents.length === 0) return { count, state: 'missing' };
  const isOdd = contents.some(({ problems }) => problems.length > 0);
  return { count, state: isOdd ? 'doubt' : 'done' };
}

function sittingsCount({ sittings, copy }: DocketData): string {
  if (sittings.length > 0) return String(sittings.length);
  return copy ? say.docket.elsewhere : say.docket.none;
}

function writebacksState({ writebacks }: DocketData): State {
  if (writebacks.length === 0) return 'missing';
  const isOdd = writebacks.some(({ state }) => state === 'unproved' || state === 'failed');
  return isOdd ? 'doubt' : 'done';
}

export function partsOf(data: DocketData): Part[] {
  const { medium, description, papers, sittings, copy, writebacks, history } = data;
  return [
    {
      id: 'condition',
      name: say.docket.condition,
      count: medium.condition ? '' : say.docket.notSaid,
      state: has(medium.condition !== ''),
    },
    {
      id: 'description',
      name: say.descriptions.description,
      count: '',
      state: has(description.elements.length > 0),
    },
    {
      id: 'papers',
      name: say.docket.photosAndPapers,
      count: countOf(papers),
      state: has(papers.length > 0),
    },
    {
      id: 'sittings',
      name: say.docket.sittings,
      count: sittingsCount(data),
      state: has(sittings.length > 0 || copy !== null),
    },
    { id: 'surface', name: say.docket.surface, ...surfacePart(data) },
    { id: 'contents', name: say.docket.contents, ...contentsPart(data) },
    {
      id: 'copies',
      name: say.docket.copies,
      count: copy ? '' : say.docket.none,
      state: has(copy !== null),
    },
    {
      id: 'writebacks',
      name: say.docket.writeBack,
      count: countOf(writebacks),
      state: writebacksState(data),
    },
    { id: 'history', name: say.docket.history, count: String(history.length), state: 'done' },
  ];
}

export function headline({ medium, copy, contents }: DocketData): string {
  if (!copy)
    return medium.isBlank
      ? say.docket.isABlank({ code: medium.code })
      : say.docket.hasNotBeenRead({ code: medium.code });
  const doubt = (copy.tally?.doubtful ?? 0) + (copy.tally?.lost ?? 0) + (copy.tally?.unread ?? 0);
  const files = totalOf(contents, 'liveFiles');
  const touched = totalOf(contents, 'hurtFiles');
  const unit = copy.blocks ? say.docket.block : say.docket.sector;
  const first = copy.tally ? say.docket.everySAreIn({ doubt, unit }) : say.docket.takenInAsA;
  const tracks = copy.blocks?.tracks ?? [];
  if (isOnlySound(tracks)) return say.docket.isADiscOfSound({ first, tracks: tracks.length });
  return contents.length === 0
    ? say.docket.noVolumeWasFound({ first })
    : say.docket.files({ first, files, touched, doubt });
}
