'use client';
/** What packing would save, and how long it would take, before it is done. */
import { useQuery } from '@tanstack/react-query';
import { amount } from '@/core/text/amount';
import { packingQuery } from '../data/queries';
import { say } from '@/messages';

export function PackingTrial({ copies }: { copies: readonly number[] }) {
  const { data, error } = useQuery(packingQuery(copies));
  if (error) return <p className="text-[13px] text-ink-2">{error.message}</p>;
  if (!data) return <p className="text-[13px] text-ink-2">{say.holdings.tryingItOnSamples}</p>;
  const { bytes, packedBytes, seconds } = data;
  const share = bytes === 0 ? 100 : Math.round((100 * packedBytes) / bytes);
  return (
    <p className="text-[13px]" data-testid="packing-trial">
      {say.holdings.packedWouldBeAbout({ bytes: amount(bytes) })} <b>{amount(packedBytes)}</b> (
      {share} %):{' '}
      {share >= 95 ? (
        say.holdings.hardlyWorthIt
      ) : (
        <>
          <b>{amount(Math.max(0, bytes - packedBytes))}</b> {say.holdings.saved}
        </>
      )}
      {say.holdings.inAbout}{' '}
      {seconds < 1
        ? say.holdings.aSecond
        : seconds < 90
          ? `${Math.ceil(seconds)} s`
          : say.holdings.min({ seconds: Math.ceil(seconds / 60) })}{' '}
      {say.holdings.orLess}
    </p>
  );
}
