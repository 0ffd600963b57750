'use client';
/** How another directory of the same disc names things, and what only one of the two lists. */
import type { DocketData } from '../data/queries';
import { grouped } from '../parts/grade';

type Volume = DocketData['contents'][number];

const VIEW_WORDS = {
  joliet: 'Joliet',
  rockridge: 'Rock Ridge',
  iso9660: 'the plain directory of ISO 9660',
} as const;

function difference({ only, lacks }: { only: number; lacks: number }): string {
  if (only + lacks === 0) return ', the same ones';
  return `; ${only} that are not above, ${lacks} of those above missing`;
}

export function OtherView({ view }: { view: Volume }) {
  const compared = view.compared!;
  const { files, rows } = compared;
  return (
    <details data-testid="volume-view" className="mb-4 text-[13px]">
      <summary className="cursor-pointer py-1">
        As <b>{VIEW_WORDS[view.view!]}</b> lists it{view.label && ` (“${view.label}”)`}: {files}{' '}
        {files === 1 ? 'file' : 'files'}
        {difference(compared)}
      </summary>
      <table className="w-full border-collapse">
        <thead>
          <tr className="border-b border-line">
            <th>Named here</th>
            <th>Named above</th>
            <th className="text-right">Bytes</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ id, path, link, bytes, knownAs }) => (
            <tr key={id} className="border-b border-line">
              <td className="py-1 pr-3 font-mono">{path}</td>
              <td className="pr-3 font-mono text-ink-2">
                {link === null ? (knownAs ?? '–') : `leads to ${link}`}
              </td>
              <td className="whitespace-nowrap text-right">{grouped(bytes)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {files > rows.length && <p>The first {rows.length} are shown.</p>}
    </details>
  );
}
