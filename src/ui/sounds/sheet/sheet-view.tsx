'use client';
/** All that sounds on a medium, on paper: volume by volume, with what each program plays and lacks. */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { grouped } from '@/core/text/grouped';
import { say } from '@/messages';
import { docketQuery, soundsQuery, type Sounds } from '../../data/queries';
import { Button } from '../../parts/button';
import { EmptyState, ErrorAlert, PageHead } from '../../parts/page';
import { lengthWords } from '../length-words';
import { groupsOf, type Group, type Item } from '../sound-list';
import { docketPage } from '../../data/addresses';

export function SheetView({ code }: { code: string }) {
  const { data: docket } = useQuery(docketQuery(code));
  const copy = docket?.copy;
  const { data: sounds, error } = useQuery({ ...soundsQuery(copy?.id ?? 0), enabled: !!copy });
  const over = (
    <Link href={docketPage(code, '/sounds')} className="underline print:no-underline">
      {code}
      {docket ? `, ${docket.medium.title}` : ''}
    </Link>
  );
  const isThere = sounds !== undefined;
  return (
    <div className="on-paper">
      <PageHead over={over} title={say.sounds.sheetTitle}>
        <span className="print:hidden">
          <Button hotkey="p" tone="primary" disabled={!isThere} onClick={() => window.print()}>
            {say.sounds.printSheet}
          </Button>
        </span>
      </PageHead>
      <ErrorAlert>{error?.message}</ErrorAlert>
      {docket && !copy && <EmptyState>{say.sounds.aSittingMakesThe}</EmptyState>}
      {sounds && <Sheet sounds={sounds} />}
    </div>
  );
}

function Sheet({ sounds }: { sounds: Sounds }) {
  const groups = groupsOf(sounds);
  const { tracks } = sounds;
  if (groups.length + tracks.length === 0)
    return <EmptyState>{say.sounds.noneAreKnown}</EmptyState>;
  return (
    <div className="grid gap-6 text-[13px]">
      {groups.map((group, i) => (
        <GroupTable key={i} group={group} />
      ))}
      {tracks.length > 0 && (
        <section>
          <h2>{say.sounds.tracksOfSound}</h2>
          <ul>
            {tracks.map(({ number, seconds, hasPreEmphasis }) => (
              <li key={number} className="border-b border-line py-1">
                {say.sounds.trackNumber({ number })}, {lengthWords(seconds, false)}
                {hasPreEmphasis && `, ${say.sounds.withPreEmphasis}`}
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

function GroupTable({ group: { title, items } }: { group: Group }) {
  const heads = [
    say.sounds.name,
    say.sounds.length,
    say.sounds.rate,
    say.sounds.root,
    say.sounds.playedBy,
  ];
  return (
    <section>
      <h2>{title}</h2>
      <table className="w-full table-fixed text-left">
        <thead className="border-b border-line">
          <tr>
            {heads.map((head) => (
              <th key={head} className="py-1 pr-4 font-[650]">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {items.map((item) => (
            <tr key={item.key} className="break-inside-avoid border-b border-line align-top">
              {cellsOf(item).map((cell, i) => (
                <td key={i} className={`py-1 pr-4 ${i === 0 ? 'font-mono' : ''}`}>
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** A name and what is known of it, a cell for each head. */
function cellsOf(item: Item): string[] {
  if (item.kind === 'file') return [item.path, '', '', '', ''];
  if (item.kind === 'program') {
    const { name, regions } = item.program;
    const lacking = regions.filter(({ sample }) => sample === null);
    const lacks = [...new Set(lacking.map(({ sampleName }) => sampleName))];
    return [
      name,
      say.sounds.program({ regions: regions.length }),
      '',
      '',
      lacks.length > 0 ? say.sounds.lacks({ samples: lacks.join(', ') }) : '',
    ];
  }
  const { name, frames, rateHz, rateAssumed, rootNote, loops } = item.sample;
  const rate = say.sounds.hertz({ rate: grouped(rateHz) });
  return [
    name,
    lengthWords(frames / Math.max(1, rateHz), loops.length > 0),
    rateAssumed ? `${rate}, ${say.sounds.assumed}` : rate,
    String(rootNote ?? '–'),
    item.playedBy?.join(', ') ?? '',
  ];
}
