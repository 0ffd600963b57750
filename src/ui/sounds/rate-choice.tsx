/** The rate of sounds that do not say theirs: tried by ear, then kept with their medium. */
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { grouped } from '@/core/text/grouped';
import { say } from '@/messages';
import { post } from '../data/api';
import { soundsQuery } from '../data/queries';
import { ErrorAlert } from '../parts/page';

/** Rates that machines of the time recorded at. */
const RATES = [
  8000, 8363, 11_025, 15_000, 16_000, 16_726, 22_050, 22_255, 27_778, 29_411, 31_250, 32_000,
  44_100, 48_000,
];

/** What is tried for the sounds of one copy. */
export function useRate(copyId: number) {
  const client = useQueryClient();
  const [tried, setTried] = useState<{ copyId: number; rateHz: number } | null>(null);
  const asIf = tried && tried.copyId === copyId ? tried.rateHz : null;
  const { mutate, isPending, error, isSuccess, variables } = useMutation({
    mutationFn: (kept: { copyId: number; rateHz: number }) =>
      post(`/api/copies/${kept.copyId}/rate`, { rateHz: kept.rateHz }),
    onSuccess: () => client.invalidateQueries(soundsQuery(copyId)),
  });
  const wasAsked = variables?.copyId === copyId && variables.rateHz === asIf;
  return {
    asIf,
    setRate: (rateHz: number) => setTried({ copyId, rateHz }),
    keep: (rateHz: number) => mutate({ copyId, rateHz }),
    /** What is tried is kept by now. */
    isKept: isSuccess && wasAsked,
    isPending,
    error,
  };
}

export type Rate = ReturnType<typeof useRate>;

/** A sound whose medium does not say its rate, as if it had the one that is tried. */
export const atRate = <S extends { rateHz: number; rateAssumed: boolean }>(
  sample: S,
  { asIf }: Rate,
): S => (sample.rateAssumed && asIf !== null ? { ...sample, rateHz: asIf } : sample);

interface RateChoiceProps {
  /** As it is heard now. */
  rateHz: number;
  rate: Rate;
}

export function RateChoice({ rateHz, rate }: RateChoiceProps) {
  const { asIf, setRate, keep, isKept, isPending, error } = rate;
  const rates = RATES.includes(rateHz) ? RATES : [rateHz, ...RATES];
  return (
    <div className="mt-3 flex flex-wrap items-center gap-3 text-[13px]">
      <label className="flex items-center gap-2">
        {say.sounds.asIf}
        <select
          value={rateHz}
          onChange={(event) => setRate(Number(event.target.value))}
          className="rounded-sm border border-line bg-sheet px-2 py-1"
        >
          {rates.map((each) => (
            <option key={each} value={each}>
              {say.sounds.hertz({ rate: grouped(each) })}
            </option>
          ))}
        </select>
      </label>
      {isKept && <span role="status">{say.sounds.rateIsKept}</span>}
      {asIf !== null && !isKept && (
        <button
          type="button"
          disabled={isPending}
          onClick={() => keep(asIf)}
          className="font-[650] text-oxide underline"
        >
          {say.sounds.keepRateWithMedium}
        </button>
      )}
      <ErrorAlert>{error?.message}</ErrorAlert>
    </div>
  );
}
