'use client';
/** What a docket's index and headline say of each part: done, in doubt, or missing. */
import { type DocketData } from '@/ui/data/queries';

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
export function partsOf({
  medium,
  papers,
  sittings,
  copy,
  contents,
  writebacks,
  history,
}: DocketData): Part[] {
  const doubt =
    (copy?.tally?.doubtful ?? 0) + (copy?.tally?.lost ?? 0) + (copy?.tally?.unread ?? 0);
  const files = totalOf(contents, 'liveFiles');
  const problems = contents.reduce((sum, volume) => sum + volume.problems.length, 0);
  const has = (there: boolean): Part['state'] => (there ? 'done' : 'missing');
  return [
    {
      id: 'condition',
      name: 'Condition',
      count: medium.condition ? '' : 'not said',
      state: has(medium.condition !== ''),
    },
    {
      id: 'papers',
      name: 'Photos and papers',
      count: String(papers.length || 'none'),
      state: has(papers.length > 0),
    },
    {
      id: 'sittings',
      name: 'Sittings',
      count: sittings.length > 0 ? String(sittings.length) : copy ? 'elsewhere' : 'none',
      state: has(sittings.length > 0 || copy !== null),
    },
    {
      id: 'surface',
      name: 'Surface',
      count: copy?.tally
        ? doubt > 0
          ? `${doubt.toLocaleString('en')} in doubt`
          : 'sound'
        : 'none',
      state: copy?.tally ? (doubt > 0 ? 'doubt' : 'done') : 'missing',
    },
    {
      id: 'contents',
      name: 'Contents',
      count: contents.length > 0 ? `${files} files` : 'none',
      state: contents.length > 0 ? (problems > 0 ? 'doubt' : 'done') : 'missing',
    },
    { id: 'copies', name: 'Copies', count: copy ? '' : 'none', state: has(copy !== null) },
    {
      id: 'writebacks',
      name: 'Write back',
      count: String(writebacks.length || 'none'),
      state:
        writebacks.length === 0
          ? 'missing'
          : writebacks.some(({ state }) => state === 'unproved' || state === 'failed')
            ? 'doubt'
            : 'done',
    },
    { id: 'history', name: 'History', count: String(history.length), state: 'done' },
  ];
}

export function headline({ medium, copy, contents }: DocketData): string {
  if (!copy)
    return medium.isBlank ? `${medium.code} is a blank` : `${medium.code} has not been read yet`;
  const doubt = (copy.tally?.doubtful ?? 0) + (copy.tally?.lost ?? 0) + (copy.tally?.unread ?? 0);
  const files = totalOf(contents, 'liveFiles');
  const touched = totalOf(contents, 'hurtFiles');
  const unit = copy.blocks ? 'block' : 'sector';
  const first = copy.tally
    ? doubt === 0
      ? `Every ${unit} is sound`
      : `${doubt.toLocaleString('en')} ${doubt === 1 ? `${unit} is` : `${unit}s are`} in doubt`
    : 'Taken in as a flat image';
  return contents.length === 0
    ? `${first}; no volume was found`
    : `${first}; ${files} ` +
        `files${touched > 0 ? `, ${touched} of them hurt` : doubt > 0 ? ', none of them touched' : ''}`;
}
