'use client';
/** What became of the files that were dropped or chosen, and how far a folder is. */
import { Gauge } from '../../parts/gauge';
import type { Intake } from './take-in';
import type { FolderProgress } from './use-taking-in';
import { say } from '@/messages';

const SHADES = {
  refused: 'border-oxide bg-oxide-wash',
  other: 'border-verdigris bg-verdigris-wash',
} as const;

const OUTCOMES: Record<Intake['outcome'], string> = {
  'under-way': say.holdings.underWay,
  'taken-in': say.holdings.takenIn,
  refused: say.holdings.refused,
};

interface IntakeListProps {
  intakes: readonly Intake[];
  folder: FolderProgress | null;
}

export function IntakeList({ intakes, folder }: IntakeListProps) {
  return (
    <>
      {folder && <FolderProgress folder={folder} />}
      {intakes.length > 0 && <Intakes intakes={intakes} />}
    </>
  );
}

function FolderProgress({ folder }: { folder: FolderProgress }) {
  return (
    <p className="mb-2 flex items-center gap-3 text-[13px]" aria-live="polite">
      <Gauge
        done={folder.done}
        of={folder.of}
        label={say.holdings.imagesTakenIn}
        className="w-52"
      />
      {say.holdings.ofTakenIn({ done: folder.done, of: folder.of })}{' '}
      <button
        type="button"
        onClick={() => folder.stop.abort()}
        className="font-[650] text-oxide underline"
      >
        {say.holdings.stopHere}
      </button>
    </p>
  );
}

function Intakes({ intakes }: { intakes: readonly Intake[] }) {
  return (
    <ul
      className="mb-4 max-h-56 space-y-1 overflow-auto text-[13px]"
      aria-live="polite"
      data-testid="intakes"
    >
      {intakes.map(({ name, outcome, text }) => (
        <li
          key={name}
          className={`border-l-4 px-3 py-1.5 ${outcome === 'refused' ? SHADES.refused : SHADES.other}`}
        >
          <b>{name}</b> {OUTCOMES[outcome]}: {text}
        </li>
      ))}
    </ul>
  );
}
