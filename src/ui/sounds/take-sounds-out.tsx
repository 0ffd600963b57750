'use client';
/** The sounds of a medium on their way out: their sheet, and all of them as WAV or FLAC and SFZ. */
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { say } from '@/messages';
import type { ExtractAsked } from '@/server/features/extracts/extracts';
import { post } from '../data/api';
import { Button } from '../parts/button';
import { ErrorAlert } from '../parts/page';

/** All that sounds, as rows to save. */
export function SheetLinks({ copyId }: { copyId: number }) {
  const sheets = [
    ['csv', say.sounds.sheetAsCsv],
    ['json', say.sounds.sheetAsJson],
  ];
  return sheets.map(([kind, words]) => (
    <a
      key={kind}
      href={`/api/copies/${copyId}/sounds?sheet=${kind}`}
      download
      className="self-center text-[13px] font-[650] text-oxide underline"
    >
      {words}
    </a>
  ));
}

export function TakeSoundsOut({ copyId, wasBegun }: { copyId: number; wasBegun: () => void }) {
  const [isPacked, setPacked] = useState(false);
  const take = useMutation({
    mutationFn: () =>
      post('/api/extracts', {
        copies: [copyId],
        what: 'sounds',
        packed: isPacked,
      } satisfies ExtractAsked),
    onSuccess: wasBegun,
  });
  return (
    <div className="flex flex-col items-end gap-1">
      <Button hotkey="shift+o" disabled={take.isPending} onClick={() => take.mutate()}>
        {say.sounds.takeThemOut}
      </Button>
      <label className="flex items-center gap-2 text-[13px]">
        <input
          type="checkbox"
          className="size-4"
          checked={isPacked}
          disabled={take.isPending}
          onChange={(event) => setPacked(event.target.checked)}
        />
        {say.sounds.packedAsFlac}
      </label>
      <ErrorAlert>{take.error?.message}</ErrorAlert>
    </div>
  );
}
