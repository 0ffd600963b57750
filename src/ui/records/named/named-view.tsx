'use client';
/** The page of a lender or of a machine: what is known of it, its lots, its media. */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { say } from '@/messages';
import { NAMED_FACTS } from '@/server/features/media/new-medium';
import { recordPageOf } from '../../data/addresses';
import { namedQuery, type NamedPage } from '../../data/queries';
import { TermLine, TERMS } from '../../descriptions/term-line';
import { Button } from '../../parts/button';
import { PageHead } from '../../parts/page';
import { MediaOfRecord } from '../media-of-record';
import { Part } from '../part';
import { NamedDialog } from './named-dialog';

export function NamedView({ kind, name }: { kind: NamedPage['kind']; name: string }) {
  const { data } = useQuery(namedQuery(kind, name));
  if (!data) return <h1>{name}</h1>;
  const { record, lots, media } = data;
  return (
    <div className="max-w-[1100px] pb-6">
      <PageHead
        over={
          <>
            <Link href="/lots" className="underline">
              {say.descriptions.allLotsAndSets}
            </Link>
            {' · '}
            {say.named.over[kind]({ media: say.descriptions.ofMedia(media) })}
          </>
        }
        title={name}
      >
        <Correct kind={kind} record={record} />
      </PageHead>
      <Part title={say.named.known}>
        <dl className={TERMS}>
          {NAMED_FACTS[kind].map((fact) => (
            <TermLine
              key={fact}
              term={say.named.facts[fact]}
              values={[record[fact] || say.descriptions.notKnown]}
            />
          ))}
        </dl>
      </Part>
      {lots.length > 0 && (
        <Part title={say.descriptions.lots}>
          <LotsOf lots={lots} />
        </Part>
      )}
      <Part title={say.descriptions.media}>
        <MediaOfRecord {...media} isSet={false} />
      </Part>
    </div>
  );
}

function LotsOf({ lots }: Pick<NamedPage, 'lots'>) {
  return (
    <ul className="text-[14px]">
      {lots.map(({ name, cameIn, handBackBy }) => (
        <li key={name} className="py-1">
          <Link href={recordPageOf('lots', name)} className="font-[650] hover:underline">
            {name}
          </Link>{' '}
          <span className="text-[13px] text-ink-2">
            {[
              cameIn && say.named.cameIn({ day: cameIn }),
              handBackBy && say.named.backBy({ day: handBackBy }),
            ]
              .filter(Boolean)
              .join(', ')}
          </span>
        </li>
      ))}
    </ul>
  );
}

function Correct({ kind, record }: Pick<NamedPage, 'kind' | 'record'>) {
  const [isOpen, setIsOpen] = useState(false);
  const router = useRouter();
  const goTo = (name: string) => {
    if (name !== record.name) router.replace(recordPageOf(kind, name));
  };
  return (
    <>
      <Button hotkey="e" onClick={() => setIsOpen(true)}>
        {say.named.correct[kind]}
      </Button>
      <NamedDialog
        kind={kind}
        record={isOpen ? record : null}
        onKept={goTo}
        onClose={() => setIsOpen(false)}
      />
    </>
  );
}
