/** The foot of a form in a dialog: what went wrong, a way out, and the button that sends it. */
import type { ReactNode } from 'react';
import { say } from '@/messages';
import { ErrorAlert } from './page';

interface FormFootProps {
  trouble: string | null | undefined;
  isBusy: boolean;
  onLeave: () => void;
  /** What the button that sends says. */
  children: ReactNode;
}

export function FormFoot({ trouble, isBusy, onLeave, children }: FormFootProps) {
  return (
    <div className="col-span-2 flex items-center justify-end gap-3">
      <ErrorAlert>{trouble}</ErrorAlert>
      <button
        type="button"
        onClick={onLeave}
        className="min-h-9 rounded-sm border border-line bg-sheet px-3 font-[650]"
      >
        {say.parts.notNow}
      </button>
      <button
        type="submit"
        disabled={isBusy}
        className={
          'min-h-9 rounded-sm border border-oxide bg-oxide px-3 font-[650] text-oxide-ink ' +
          'disabled:opacity-45'
        }
      >
        {children}
      </button>
    </div>
  );
}
