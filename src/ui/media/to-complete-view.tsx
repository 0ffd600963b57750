'use client';
/**
 * What is still to be completed, across everything kept and waiting: so that descriptions are not
 * put off and forgotten.
 */
import { FORM_NAMES, LACK_WORDS } from '@/messages/names';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { Fragment, useState } from 'react';
import { toCompleteQuery, type ToComplete } from '../data/queries';
import { Button } from '../parts/button';
import { grouped } from '@/core/text/grouped';
import { EmptyState, PageHead } from '../parts/page';
import { say } from '@/messages';
import { docketPage } from '../data/addresses';

type Lack = keyof ToComplete['counts'];

/** Where on its docket what is lacking is put in. */
const FIELD_OF: Record<Lack, string> = {
  'what it is': '?correct=title',
  owner: '?correct=lender',
  label: '?correct=labelText',
  condition: '?correct=condition',
  side: '?correct=recordedSide',
  photo: '#papers',
};

function IncompleteSets({ sets }: Pick<ToComplete, 'sets'>) {
  return (
    <section className="mb-5">
      <h2 className="mb-1">{say.media.setsWithMissingMembers}</h2>
      <ul className="text-[14px]">
        {sets.map(({ name, members, own, count, missing }) => (
          <li key={name} className="border-b border-line py-1">
            <b>{name}</b>: {count}
            {members ? say.media.of({ members }) : ''}
            {say.media.missing({ missing: missing.slice(0, 12).join(', ') })}
            {missing.length > 12 ? say.media.andMore({ missing: missing.length - 12 }) : ''}.{' '}
            {own[0] && (
              <Link
                href={docketPage(own[0].code, '#condition')}
                className="font-mono text-oxide underline"
              >
                {own[0].code}
              </Link>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function IncompleteRow({ code, title, form, lot, toComplete, held }: ToComplete['media'][number]) {
  return (
    <tr className="h-9 border-b border-line">
      <td className="pr-4">
        <Link href={docketPage(code)} className="font-mono font-[650] hover:underline">
          {code}
        </Link>
      </td>
      <td className="pr-4">{title}</td>
      <td className="pr-4">{FORM_NAMES[form]}</td>
      <td className="pr-4 text-ink-2">{lot}</td>
      <td className="pr-4">
        {toComplete.map((lack, i) => (
          <Fragment key={lack}>
            {i > 0 && ', '}
            <Link href={docketPage(code, FIELD_OF[lack])} className="underline">
              {LACK_WORDS[lack]}
            </Link>
          </Fragment>
        ))}
      </td>
      <td className="text-ink-2">{held ? say.media.kept : say.media.waiting}</td>
    </tr>
  );
}

function Incomplete({ media }: Pick<ToComplete, 'media'>) {
  return (
    <table className="w-full border-collapse text-[14px]">
      <thead>
        <tr className="border-b border-line text-[13px]">
          <th>{say.media.code}</th>
          <th>{say.media.whatItIs}</th>
          <th>{say.media.medium}</th>
          <th>{say.media.lot}</th>
          <th>{say.media.toComplete}</th>
          <th>{say.media.where}</th>
        </tr>
      </thead>
      <tbody>
        {media.map((each) => (
          <IncompleteRow key={each.code} {...each} />
        ))}
      </tbody>
    </table>
  );
}

export function ToCompleteView() {
  const [only, setOnly] = useState<Lack>();
  /** Codes behind which the pages before this one ended. */
  const [passed, setPassed] = useState<string[]>([]);
  const { data } = useQuery({
    ...toCompleteQuery({ ...(only && { only }), ...(passed.length && { after: passed.at(-1) }) }),
    placeholderData: keepPreviousData,
  });
  if (!data) return <PageHead title={say.media.lookingWhatIsTo} />;
  const kinds = (Object.keys(data.counts) as Lack[]).filter((kind) => data.counts[kind] > 0);
  const choose = (kind: Lack) => {
    setOnly(only === kind ? undefined : kind);
    setPassed([]);
  };
  return (
    <>
      <ToCompleteHead data={data} />
      <LackChoice kinds={kinds} only={only} choose={choose} data={data} />
      {data.sets.length > 0 && <IncompleteSets sets={data.sets} />}
      {data.media.length === 0 ? (
        <EmptyState>{say.media.everyMediumHasAn}</EmptyState>
      ) : (
        <Incomplete media={data.media} />
      )}
      <p className="mt-3 flex gap-3 text-[13px]">
        {passed.length > 0 && (
          <Button onClick={() => setPassed(passed.slice(0, -1))}>{say.media.thoseBefore}</Button>
        )}
        {data.next && (
          <Button onClick={() => setPassed([...passed, data.next!])}>{say.media.more}</Button>
        )}
      </p>
    </>
  );
}

function ToCompleteHead({ data }: { data: ToComplete }) {
  return (
    <PageHead
      over={
        <>
          <Link href="/arrivals" className="underline">
            {say.media.arrivals}
          </Link>{' '}
          {say.media.keptAndWaitingMedia({ of: grouped(data.of) })}
        </>
      }
      title={
        data.total === 0
          ? say.media.nothingIsToBe
          : say.media.ofMediaLackSomething({ total: grouped(data.total), of: grouped(data.of) })
      }
    />
  );
}

function LackChoice({
  kinds,
  only,
  choose,
  data,
}: {
  kinds: ('owner' | 'label' | 'what it is' | 'condition' | 'photo' | 'side')[];
  only: string | undefined;
  choose: (kind: Lack) => void;
  data: ToComplete;
}) {
  return (
    <div className="mb-4 flex flex-wrap gap-2">
      {kinds.map((kind) => (
        <Button key={kind} tone={only === kind ? 'primary' : 'plain'} onClick={() => choose(kind)}>
          {LACK_WORDS[kind]}: {grouped(data.counts[kind])}
        </Button>
      ))}
    </div>
  );
}
