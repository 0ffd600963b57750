'use client';
/** The page of a lot or of a set: what is registered and said of it, its papers, its media. */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState, type ReactNode } from 'react';
import { say } from '@/messages';
import { reportPageOf } from '../data/addresses';
import { recordQuery, type RecordPage } from '../data/queries';
import { DescriptionPanel } from '../descriptions/description-panel';
import { FolderSwitch } from '../folders/folder-switch';
import { MakeParcel } from '../parcels/make-parcel';
import { RightsPanel } from '../rights/rights-panel';
import { MakeReceipt } from '../receipts/make-receipt';
import { TermLine, TERMS } from '../descriptions/term-line';
import { LotDialog } from '../media/lot-dialog';
import { ofLot, sharedBy } from '../media/outbox';
import { Papers } from '../media/papers';
import { Button } from '../parts/button';
import { PageHead } from '../parts/page';
import { MediaOfRecord } from './media-of-record';
import { Part } from './part';
import { factsOf } from './record-facts';
import { SetDialog } from './set-dialog';

function over({ kind, media: { all, read } }: RecordPage): ReactNode {
  const media = say.descriptions.ofMedia({ all, read });
  return (
    <>
      <Link href="/lots" className="underline">
        {say.descriptions.allLotsAndSets}
      </Link>
      {' · '}
      {kind === 'lots' ? say.descriptions.lot({ media }) : say.descriptions.set({ media })}
    </>
  );
}

export function RecordView({ kind, name }: { kind: RecordPage['kind']; name: string }) {
  const { data: record } = useQuery(recordQuery(kind, name));
  if (!record) return <h1>{name}</h1>;
  return (
    <div className="max-w-[1100px] pb-6">
      <PageHead over={over(record)} title={name}>
        <MakeParcel
          of={kind === 'lots' ? { lot: name } : { set: name }}
          media={record.media.all - record.stays}
          stays={record.stays}
        />
        <ReceiptOf record={record} />
        <Correct record={record} />
      </PageHead>
      <Part title={say.descriptions.facts}>
        <dl className={TERMS}>
          {factsOf(record).map(([term, value, href]) => (
            <TermLine key={term} term={term} values={[value]} href={href} />
          ))}
        </dl>
      </Part>
      <Part title={say.descriptions.description}>
        <DescriptionPanel
          kind={kind}
          name={name}
          description={record.description}
          papers={record.papers}
        />
        <RightsPanel kind={kind} name={name} rights={record.rights} holds={record.rights.holds} />
      </Part>
      <Part title={say.descriptions.papers}>
        <Papers
          owner={kind === 'lots' ? ofLot(record) : sharedBy(record)}
          papers={record.papers}
          ownPart={kind === 'lots' ? say.descriptions.ofThisLot : say.descriptions.ofThisSet}
        />
      </Part>
      <Part title={say.descriptions.media}>
        {record.kind === 'lots' && <FolderSwitch of={{ lot: name }} folder={record.folder} />}
        <MediaOfRecord {...record.media} isSet={kind === 'sets'} />
      </Part>
    </div>
  );
}

const RECEIPT_KINDS = ['handed-back', 'sent-out', 'arrived', 'came-back'] as const;

function ReceiptOf({ record }: { record: RecordPage }) {
  const { kind, name, media } = record;
  if (media.all === 0) return null;
  return (
    <>
      {kind === 'lots' && (
        <Link
          href={reportPageOf(name)}
          className="self-center text-[13px] font-[650] text-oxide underline"
        >
          {say.receipts.report}
        </Link>
      )}
      <MakeReceipt
        name={name}
        of={kind === 'lots' ? { lot: name } : { set: name }}
        kinds={RECEIPT_KINDS}
        unread={media.rows.filter(({ isRead, out }) => !isRead && out === null).length}
        hotkey="h"
      />
    </>
  );
}

function Correct({ record }: { record: RecordPage }) {
  const [isOpen, setIsOpen] = useState(false);
  const close = () => setIsOpen(false);
  const router = useRouter();
  const goTo = (name: string) => {
    if (name !== record.name) router.replace(`/${record.kind}/${encodeURIComponent(name)}`);
  };
  const label = record.kind === 'lots' ? say.descriptions.correctLot : say.descriptions.correctSet;
  return (
    <>
      <Button hotkey="e" onClick={() => setIsOpen(true)}>
        {label}
      </Button>
      {record.kind === 'lots' ? (
        <LotDialog lot={isOpen ? record.lot : null} onKept={goTo} onClose={close} />
      ) : (
        <SetDialog set={isOpen ? record : null} onKept={goTo} onClose={close} />
      )}
    </>
  );
}
