'use client';
/** What became of files that were put in: those under another name, and those left out. */
import type { Outcome } from '@/server/features/assemblies/gather-files';
import { say } from '@/messages';

/** What became of files that were put in: those under another name, and those left out. */
export function Told({ outcome, onDone }: { outcome: Outcome; onDone: () => void }) {
  const renamed = outcome.put.filter((file) => file.renamed);
  const doubtful = outcome.put.filter(({ doubt }) => doubt);
  if (renamed.length === 0 && doubtful.length === 0 && outcome.left.length === 0) return null;
  return (
    <div
      role="status"
      data-testid="outcome"
      className="mb-3 max-h-44 overflow-auto border-l-4 border-oxide bg-oxide-wash px-3 py-2 text-[13px]"
    >
      <p className="flex">
        <b className="flex-1">
          {say.assemblies.putIn({ put: outcome.put.length })}
          {renamed.length > 0 && say.assemblies.underAnotherName({ renamed: renamed.length })}
          {outcome.left.length > 0 && say.assemblies.leftOut({ left: outcome.left.length })}
        </b>
        <button type="button" onClick={onDone} className="text-oxide underline">
          {say.assemblies.seen}
        </button>
      </p>
      <ToldFiles outcome={outcome} doubtful={doubtful} renamed={renamed} />
    </div>
  );
}

interface ToldFilesProps {
  outcome: Outcome;
  doubtful: Outcome['put'];
  renamed: Outcome['put'];
}

function ToldFiles({ outcome, doubtful, renamed }: ToldFilesProps) {
  return (
    <ul>
      {outcome.left.map(({ name, why }, i) => (
        <li key={`left-${i}`}>
          <b>{name}</b> {say.assemblies.isLeftOut({ why })}
        </li>
      ))}
      {doubtful.map(({ path, doubt }) => (
        <li key={`doubt-${path}`}>
          <b className="font-mono">{path}</b> {say.assemblies.isPutInAs} {doubt}.
        </li>
      ))}
      {renamed.map(({ path, was, renamed: why }) => (
        <li key={path}>
          <span className="font-mono">{was}</span> {say.assemblies.became}{' '}
          <span className="font-mono">{path}</span>. {why}
        </li>
      ))}
    </ul>
  );
}
