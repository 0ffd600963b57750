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
import { EmptyState, PageHead, ErrorAlert } from '../parts/page';

const WHERE_WORDS = { boot: 'boot sectors', anywhere: 'everything' } as const;
/** Pairs of a pattern shown before the rest is left out. */
const SHOWN = 24;

async function taken(file: File): Promise<{ rules: number }> {
  let rules: unknown;
  try {
    rules = JSON.parse(await file.text());
  } catch {
    throw new Error(`${file.name} is no JSON. Nothing was taken in.`);
  }
  try {
    return await post('/api/rules', rules);
  } catch (error) {
    if (error instanceof ApiError && Object.keys(error.fields).length > 0)
      throw new Error(
        `${file.name}: ${Object.entries(error.fields)
          .slice(0, 6)
          .map(([place, message]) => `rule ${place}: ${message}`)
          .join('; ')}. Nothing was taken in.`,
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
      setSaid(
        `${count} ${count === 1 ? 'rule' : 'rules'} taken in; everything kept is being ` +
          `held against ${count === 1 ? 'it' : 'them'}.`,
      );
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
            Images are held against them as they are settled or taken in; what answers to one is{' '}
            <Link href="/holdings" className="underline">
              in quarantine
            </Link>
          </>
        }
        title={
          rules.length === 0
            ? 'No signature rules are kept'
            : `${rules.length} signature ${rules.length === 1 ? 'rule is' : 'rules are'} kept`
        }
      >
        <Button hotkey="t" disabled={take.isPending} onClick={() => picker.current?.click()}>
          Take in a file of rules
        </Button>
      </PageHead>
      <input
        ref={picker}
        type="file"
        accept=".json,application/json"
        hidden
        data-testid="rules-file"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (file) take.mutate(file);
        }}
      />
      <p aria-live="polite" className="mb-2 text-[13px] text-ink-2">
        {said}
      </p>
      <ErrorAlert>{take.error?.message ?? drop.error?.message}</ErrorAlert>
      {rules.length === 0 ? (
        <EmptyState>
          A file is a list of rules in JSON: an id, a name, where to look, a pattern in hexadecimal
          with ?? for any byte, and a note. Keep your own: none ship.
        </EmptyState>
      ) : (
        <RulesTable rules={rules} drop={drop} />
      )}
    </>
  );
}

function RulesTable({
  rules,
  drop,
}: {
  rules: { id: string; name: string; where: 'boot' | 'anywhere'; pattern: string; note: string }[];
  drop: UseMutationResult<unknown, Error, string, unknown>;
}) {
  return (
    <table className="w-full border-collapse text-[14px]">
      <thead>
        <tr className="border-b border-line text-[13px]">
          <th>Id</th>
          <th>Name</th>
          <th>Looks at</th>
          <th>Pattern</th>
          <th>Note</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {rules.map(({ id, name, where, pattern, note }) => (
          <tr key={id} className="h-9 border-b border-line">
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
                Remove
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
