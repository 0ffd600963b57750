/** That some of what was chosen stays in the house. */
import { say } from '@/messages';

export function StaysHere({ stays }: { stays: number }) {
  if (stays === 0) return null;
  return (
    <p className="my-2 border-l-4 border-ochre bg-sheet px-3 py-2 text-[13px]">
      {say.rights.leftOut({ stays })}
    </p>
  );
}
