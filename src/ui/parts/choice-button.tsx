/** A small button that is one of several, of which one is pressed. */
import type { ReactNode } from 'react';

interface ChoiceButtonProps {
  isChosen: boolean;
  onChoose: () => void;
  children: ReactNode;
}

export function ChoiceButton({ isChosen, onChoose, children }: ChoiceButtonProps) {
  return (
    <button
      type="button"
      aria-pressed={isChosen}
      onClick={onChoose}
      className={
        'rounded-sm border border-line px-2 py-0.5 hover:border-ink-3 ' +
        'aria-pressed:border-oxide aria-pressed:bg-oxide-wash aria-pressed:font-[650]'
      }
    >
      {children}
    </button>
  );
}
