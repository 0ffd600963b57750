'use client';
/** What packing would save, and how long it would take, before it is done. */
import { useQuery } from '@tanstack/react-query';
import { amount } from '../charts/block-surface-chart';
import { packingQuery } from '../data/queries';

export function PackingTrial({ copies }: { copies: readonly number[] }) {
  const { data, error } = useQuery(packingQuery(copies));
  if (error) return <p className="text-[13px] text-ink-2">{error.message}</p>;
  if (!data) return <p className="text-[13px] text-ink-2">Trying it on samples …</p>;
  const { bytes, packedBytes, seconds } = data;
  const share = bytes === 0 ? 100 : Math.round((100 * packedBytes) / bytes);
  return (
    <p className="text-[13px]" data-testid="packing-trial">
      Packed, {amount(bytes)} would be about <b>{amount(packedBytes)}</b> ({share} %):{' '}
      {share >= 95 ? (
        'hardly worth it'
      ) : (
        <>
          <b>{amount(Math.max(0, bytes - packedBytes))}</b> saved
        </>
      )}
      , in about{' '}
      {seconds < 1
        ? 'a second'
        : seconds < 90
          ? `${Math.ceil(seconds)} s`
          : `${Math.ceil(seconds / 60)} min`}{' '}
      or less.
    </p>
  );
}
