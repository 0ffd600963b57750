'use client';
/** How another directory of the same disc names things, and what only one of the two lists. */
import type { DocketData } from '../data/queries';
import { grouped } from '@/core/text/grouped';
import { say } from '@/messages';

type Volume = DocketData['contents'][number];

const VIEW_WORDS = {
  joliet: say.copies.joliet,
  rockridge: say.copies.rockRidge,
  iso9660: say.copies.thePlainDirectoryOf,
  boot: say.copies.theBootCatalogue,
} as const;

function difference({ only, lacks }: { only: number; lacks: number }): string {
  if (only + lacks === 0) return say.copies.theSameOnes;
  return say.copies.thatAreNotAbove({ only, lacks });
}

export function OtherView({ view }: { view: Volume }) {
  const compared = view.compared!;
  const { files, rows } = compared;
  return (
    <details data-testid="volume-view" className="mb-4 text-[13px]">
      <summary className="cursor-pointer py-1">
        {say.copies.as2} <b>{VIEW_WORDS[view.view!]}</b> {say.copies.listsIt}
        {view.label && ` (“${view.label}”)`}
        {say.copies.files({ files, compared: difference(compared) })}
      </summary>
      <ViewTable rows={rows} />
      {files > rows.length && <p>{say.copies.theFirstAreShown({ rows: rows.length })}</p>}
    </details>
  );
}

function ViewTable({ rows }: { rows: NonNullable<Volume['compared']>['rows'] }) {
  return (
    <table className="w-full border-collapse">
      <thead>
        <tr className="border-b border-line">
          <th>{say.copies.namedHere}</th>
          <th>{say.copies.namedAbove}</th>
          <th className="text-right">{say.copies.bytes3}</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ id, path, link, bytes, knownAs }) => (
          <tr key={id} className="border-b border-line">
            <td className="py-1 pr-3 font-mono">{path}</td>
            <td className="pr-3 font-mono text-ink-2">
              {link === null ? (knownAs ?? '–') : say.copies.leadsTo({ link })}
            </td>
            <td className="whitespace-nowrap text-right">{grouped(bytes)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
