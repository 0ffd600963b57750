'use client';
import { say } from '@/messages';

export default function ErrorPage({ reset }: { error: Error; reset: () => void }) {
  return (
    <div className="max-w-[60ch] pt-10">
      <h1>{say.titles.thisPageCouldNot}</h1>
      <p className="mt-2 text-[15px]">{say.titles.nothingThatWasRead}</p>
      <button
        type="button"
        onClick={reset}
        className="mt-4 rounded-sm border border-oxide bg-oxide px-3 py-2 font-[650] text-oxide-ink"
      >
        {say.titles.tryAgain}
      </button>
    </div>
  );
}
