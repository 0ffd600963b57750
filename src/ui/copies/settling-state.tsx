'use client';
/** A medium that is settled anew: how far that is, what came in its way, and what was left out. */
import { useMutation } from '@tanstack/react-query';
import { say } from '@/messages';
import { post } from '../data/api';
import type { DocketData } from '../data/queries';
import { Button } from '../parts/button';
import { ErrorAlert } from '../parts/page';

export function SettlingState({ data }: { data: DocketData }) {
  const { settling, copy, medium } = data;
  if (settling?.state === 'failed') return <ErrorAlert>{settling.trouble}</ErrorAlert>;
  if (settling?.state === 'waiting' || settling?.state === 'settling')
    return <UnderWay code={medium.code} settling={settling} />;
  const isLeftOut = copy?.problems.some(({ kind }) => kind === 'turns-not-weighed');
  return isLeftOut ? <LeftOut code={medium.code} /> : null;
}

/** Asks for a medium to be settled so. */
function useAsked(code: string) {
  return useMutation({
    mutationFn: (by: 'all-turns' | 'single-turns') =>
      post(`/api/docket/${encodeURIComponent(code)}/settling`, { by }),
  });
}

const SHOWN = 'mt-3 border-l-[3px] border-oxide pl-3';

function UnderWay({
  code,
  settling: { progress, isHurried },
}: {
  code: string;
  settling: NonNullable<DocketData['settling']>;
}) {
  const hurry = useAsked(code);
  return (
    <div className={SHOWN}>
      <p role="status" data-testid="settling">
        {say.copies.beingSettledAnewFrom}
        {progress && ` ${say.copies.hurtTracksWeighed(progress)}`}
      </p>
      {progress && (
        <Button
          className="mt-2"
          disabled={isHurried || hurry.isPending}
          onClick={() => hurry.mutate('single-turns')}
        >
          {say.copies.readBySingleTurns}
        </Button>
      )}
      <ErrorAlert>{hurry.error?.message}</ErrorAlert>
    </div>
  );
}

function LeftOut({ code }: { code: string }) {
  const ask = useAsked(code);
  return (
    <div className={SHOWN}>
      <p>{say.copies.turnsWereLeftOut}</p>
      <Button className="mt-2" disabled={ask.isPending} onClick={() => ask.mutate('all-turns')}>
        {say.copies.weighAllTurns}
      </Button>
      <ErrorAlert>{ask.error?.message}</ErrorAlert>
    </div>
  );
}
