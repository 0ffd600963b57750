'use client';
/**
 * Signature rules: which are kept, and a file of more taken in; everything kept is held against
 * them at once.
 */
import { useMutation, UseMutationResult, useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useRef, useState } from 'react';
import { ApiError, post, remove } from '../data/api';
import { rulesQuery } from '../data/queries';
import { Button } from '../parts/button';
import { JsonPicker } from '../parts/json-picker';
import { EmptyState, PageHead, ErrorAlert } from '../parts/page';
import { say } from '@/messages';

const WHERE_WORDS = { boot: say.signatures.bootSectors, anywhere: 'everything' } as const;
/** Pairs of a pattern shown before the rest is left out. */
const SHOWN = 24;

async function taken(file: File): Promise<{ rules: number }> {
  let rules: unknown;
  try {
    rules = JSON.parse(await file.text());
  } catch {
    throw new Error(say.signatures.isNoJsonNothing({ name: file.name }));
  }
  try {
    return await post('/api/rules', rules);
  } catch (error) {
    if (error instanceof ApiError && Object.keys(error.fields).length > 0)
      throw new Error(
        say.signatures.nothingWasTakenIn({
          name: file.name,
          fields: Object.entries(error.fields)
            .slice(0, 6)
            .map(([place, message]) => `rule ${place}: ${message}`)
            .join('; '),
        }),
      );
    throw error;
  }
}

export function SignaturesView() {
  const { data: rules = [] } = useQuery(rulesQuery);
  const client = useQueryClient();
  const picker = useRef<HTMLInputElement>(null);
  const [said, setSaid] = useState('');
  const again = () => client.invalidateQueries({ queryKey: rulesQuery.queryKey });
  const take = useMutation({
    mutationFn: taken,
    onSuccess: ({ rules: count }) => {
      setSaid(say.signatures.rulesTakenInEverything({ count }));
      return again();
    },
  });
  const drop = useMutation({
    mutationFn: (id: string) => remove(`/api/rules/${encodeURIComponent(id)}`),
    onSuccess: again,
  });
  return (
    <>
      <PageHead
        over={
          <>
            {say.signatures.imagesAreHeldAgainst}{' '}
            <Link href="/holdings" className="underline">
              {say.signatures.inQuarantine}
            </Link>
          </>
        }
        title={say.signatures.text({ rules: rules.length })}
      >
        <Button hotkey="t" disabled={take.isPending} onClick={() => picker.current?.click()}>
          {say.signatures.takeInAFile}
        </Button>
      </PageHead>
      <JsonPicker picker={picker} testId="rules-file" onFile={(file) => take.mutate(file)} />
      <p aria-live="polite" className="mb-2 text-[13px] text-ink-2">
        {said}
      </p>
      <ErrorAlert>{take.error?.message ?? drop.error?.message}</ErrorAlert>
      {rules.length === 0 ? (
        <EmptyState>{say.signatures.aFileIsA}</EmptyState>
      ) : (
        <RulesTable rules={rules} drop={drop} />
      )}
    </>
  );
}

interface RulesTableProps {
  rules: { id: string; name: string; where: 'boot' | 'anywhere'; pattern: string; note: string }[];
  drop: UseMutationResult<unknown, Error, string, unknown>;
}

function RulesTable({ rules, drop }: RulesTableProps) {
  return (
    <table className="w-full border-collapse text-[14px]">
      <RulesHead />
      <tbody>
        {rules.map(({ id, name, where, pattern, note }) => (
          <RuleRow
            key={id}
            id={id}
            name={name}
            where={where}
            pattern={pattern}
            note={note}
            drop={drop}
          />
        ))}
      </tbody>
    </table>
  );
}

function RulesHead() {
  return (
    <thead>
      <tr className="border-b border-line text-[13px]">
        <th>{say.signatures.id}</th>
        <th>{say.signatures.name}</th>
        <th>{say.signatures.looksAt}</th>
        <th>{say.signatures.pattern}</th>
        <th>{say.signatures.note}</th>
        <th />
      </tr>
    </thead>
  );
}

interface RuleRowProps {
  id: string;
  name: string;
  where: keyof typeof WHERE_WORDS;
  pattern: string;
  note: string;
  drop: RulesTableProps['drop'];
}

function RuleRow({ id, name, where, pattern, note, drop }: RuleRowProps) {
  return (
    <tr className="h-9 border-b border-line">
      <td className="pr-4 font-mono font-[650]">{id}</td>
      <td className="pr-4">{name}</td>
      <td className="pr-4 text-ink-2">{WHERE_WORDS[where]}</td>
      <td
        className="max-w-0 truncate pr-4 font-mono text-[12px]"
        style={{ width: '34%' }}
        title={pattern}
      >
        {(pattern.match(/../g) ?? []).slice(0, SHOWN).join(' ').toUpperCase()}
        {pattern.length > SHOWN * 2 ? ' …' : ''}
      </td>
      <td className="pr-4 text-ink-2">{note}</td>
      <td className="text-right">
        <button
          type="button"
          disabled={drop.isPending}
          onClick={() => drop.mutate(id)}
          className="font-[650] text-oxide hover:underline disabled:opacity-45"
        >
          {say.signatures.remove}
        </button>
      </td>
    </tr>
  );
}
