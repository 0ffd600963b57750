'use client';
/** What every surface has above it: back to all of it, and the same as a table. */
import { Dispatch, SetStateAction, type ReactNode } from 'react';
import { say } from '@/messages';

interface ViewToolsProps {
  /** Words of the button that shows all again; null where all of it is shown. */
  whole: string | null;
  onWhole: () => void;
  asTable: boolean;
  setAsTable: Dispatch<SetStateAction<boolean>>;
  children?: ReactNode;
}

export function ViewTools({ whole, onWhole, asTable, setAsTable, children }: ViewToolsProps) {
  return (
    <span className="ml-auto flex items-center gap-3 text-ink-2">
      {whole && (
        <button type="button" onClick={onWhole} className="text-oxide underline">
          {whole}
        </button>
      )}
      <button
        type="button"
        aria-pressed={asTable}
        onClick={() => setAsTable(!asTable)}
        className="underline hover:text-ink"
      >
        {say.charts.asATable}
      </button>
      {children}
    </span>
  );
}
