'use client';
/** The fair copy held against another medium of its kind, or two sittings against one another. */
import { useQuery } from '@tanstack/react-query';
import { Dispatch, SetStateAction, useEffect, useState, type FormEvent } from 'react';
import type { Difference } from '@/core/reading/analysis/compare';
import { differenceKey } from '../charts/surface-overlay';
import { differencesQuery, holdingsQuery, type DocketData } from '../data/queries';
import { ErrorAlert } from '../parts/page';
import { DIFFERENCE_WORDS } from '../parts/words';
import type { Holdings } from '../data/queries';
import type { DifferencesData } from '../data/queries';
import { say } from '@/messages';

const APART = ['differ', 'first-only', 'second-only', 'neither'] as const;

interface DifferencesProps {
  data: DocketData;
  onShown: (differences: ReadonlyMap<string, Difference> | null) => void;
}

export function Differences({
  data: { medium, copy, sittings, layout },
  onShown,
}: DifferencesProps) {
  const [pair, setPair] = useState<[string, string] | null>(null);
  const [chosen, setChosen] = useState('');
  const { data: holdings } = useQuery({
    ...holdingsQuery({ q: '', layout: copy?.layout ?? '' }),
    // Sectors are told apart by a layout: without one there is nothing to compare with.
    enabled: Boolean(copy?.layout),
  });
  const others = (holdings?.copies ?? []).filter(
    ({ code, layout }) => code !== medium.code && layout === copy?.layout,
  );
  const { data, error, isFetching } = useQuery({
    ...differencesQuery(pair?.[0] ?? '', pair?.[1] ?? ''),
    enabled: pair !== null,
  });
  const steps = layout?.rule.stepping === 'double' ? 2 : 1;
  useEffect(() => {
    // DifferencesData by cylinders of the disk; the chart counts the drive's steps.
    if (data)
      onShown(
        new Map(
          data.listed.map(({ cylinder, head, r, difference }) => [
            differenceKey(cylinder * steps, head, r),
            difference,
          ]),
        ),
      );
  }, [data, steps, onShown]);
  const kept = sittings.filter(({ captureBlob, readings }) => captureBlob && readings > 0);
  if (others.length === 0 && kept.length === 0) return null;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const value = chosen || options[0]!.value;
    setPair(value.split('|') as [string, string]);
  };
  const options = pairsToCompare(others, medium, kept);
  if (options.length === 0) return null;
  return (
    <div className="mt-4" data-testid="differences">
      <form onSubmit={submit} className="flex items-center gap-2">
        <PairChoice chosen={chosen} setChosen={setChosen} options={options} />
        <button
          type="submit"
          disabled={isFetching}
          className="min-h-9 rounded-sm border border-line bg-sheet px-3 text-[13px] font-[650] disabled:opacity-45"
        >
          {isFetching ? say.copies.comparing : say.copies.showWhatDiffers}
        </button>
      </form>
      <ErrorAlert>{error?.message}</ErrorAlert>
      {data && <DifferencesFound data={data} />}
    </div>
  );
}

interface PairChoiceProps {
  chosen: string;
  setChosen: Dispatch<SetStateAction<string>>;
  options: { value: string; text: string }[];
}

function PairChoice({ chosen, setChosen, options }: PairChoiceProps) {
  return (
    <label className="flex items-center gap-2 text-[15px] font-[650]">
      {say.copies.compare}
      <select
        value={chosen}
        onChange={(event) => setChosen(event.target.value)}
        className="border border-line bg-sheet px-2 py-1.5 text-[13px] font-normal"
      >
        {options.map(({ value, text }) => (
          <option key={value} value={value}>
            {text}
          </option>
        ))}
      </select>
    </label>
  );
}

function pairsToCompare(
  others: Holdings['copies'],
  medium: DocketData['medium'],
  kept: DocketData['sittings'],
) {
  return [
    ...others.map(({ code, title }) => ({
      value: `${medium.code}|${code}`,
      text: say.copies.withWord({ code, title }),
    })),
    ...kept.slice(0, -1).map(({ id }, i) => ({
      value: `sitting-${kept[kept.length - 1 - i]!.id}|sitting-${id}`,
      text: say.copies.sittingWithSitting({ id: kept[kept.length - 1 - i]!.id, id2: id }),
    })),
    ...kept.map(({ id }) => ({
      value: `sitting-${id}-first|sitting-${id}`,
      text: say.copies.firstPassOfSitting({ id }),
    })),
  ].filter(({ value }) => new Set(value.split('|')).size === 2);
}

function DifferencesFound({ data }: { data: DifferencesData }) {
  return (
    <>
      <p className="mt-2 text-[15px]">
        {data.tally.differ === 0
          ? say.copies.whereverBothAreSound({ same: data.tally.same })
          : say.copies.sectorsDifferAreThe({ differ: data.tally.differ, same: data.tally.same })}
        {APART.slice(1).flatMap((key) =>
          data.tally[key] > 0 ? [`; ${data.tally[key]} ${DIFFERENCE_WORDS[key]}`] : [],
        )}
        .
      </p>
      {data.listed.length > 0 && <DifferencesTable data={data} />}
      {data.listed.length + data.more > 40 && <MoreDifferences data={data} />}
    </>
  );
}

function DifferencesTable({ data }: { data: DifferencesData }) {
  return (
    <table className="mt-1 border-collapse text-[13px]">
      <tbody>
        {data.listed.slice(0, 40).map(({ cylinder, head, r, difference, bytes, firstByte }, i) => (
          <tr key={i} className="border-b border-line">
            <td className="py-1 pr-6">{say.copies.cylinderHeadSector({ cylinder, head, r })}</td>
            <td className="pr-6">{DIFFERENCE_WORDS[difference]}</td>
            <td className="text-ink-2">
              {bytes ? say.copies.bytesFrom({ bytes, firstByte }) : ''}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function MoreDifferences({ data }: { data: DifferencesData }) {
  return (
    <p className="mt-1 text-[13px] text-ink-2">
      {say.copies.andMore({ listed: data.listed.length + data.more - 40 })}
    </p>
  );
}
