'use client';
/** What was put together for others: what is in it, for whom, how long it takes, and when it went. */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { say } from '@/messages';
import { parcelsQuery, type Parcels } from '../data/paper-queries';
import { amount } from '@/core/text/amount';
import { EmptyState, PageHead, when } from '../parts/page';
import { ProtectedDownload } from '../parts/protected-download';
import { CameBags } from './came-bags';
import { ListedCodes } from './listed-codes';

type Parcel = Parcels['parcels'][number];

export function ParcelsView() {
  const { data } = useQuery(parcelsQuery);
  const parcels = data?.parcels ?? [];
  return (
    <div className="max-w-[1100px] pb-6">
      <PageHead
        over={
          <Link href="/holdings" className="underline">
            {say.titles.holdings}
          </Link>
        }
        title={say.parcels.howMany({ parcels: parcels.length, came: data?.came.length ?? 0 })}
      />
      <p className="mb-4 max-w-[80ch] text-[14px] text-ink-2">{say.parcels.about}</p>
      {data && parcels.length === 0 && <EmptyState>{say.parcels.noneYet}</EmptyState>}
      <ul data-testid="parcels">
        {parcels.map((parcel) => (
          <ParcelEntry
            key={parcel.id}
            parcel={parcel}
            bytesPerSecond={data?.bytesPerSecond ?? null}
          />
        ))}
      </ul>
      <CameBags bags={data?.came ?? []} />
    </div>
  );
}

interface ParcelEntryProps {
  parcel: Parcel;
  bytesPerSecond: number | null;
}

function ParcelEntry({ parcel, bytesPerSecond }: ParcelEntryProps) {
  const { id, title, recipient, notes, who, madeAt, bytes } = parcel;
  const minutes = bytesPerSecond && bytes / bytesPerSecond / 60;
  return (
    <li className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-6 border-b border-line py-3">
      <div className="min-w-0">
        <h2 className="text-[17px]">{title}</h2>
        <p className="text-[14px]">
          {say.parcels.to({ recipient })} ·{' '}
          <span suppressHydrationWarning>{say.parcels.madeBy({ who, at: when(madeAt) })}</span>
        </p>
        <MediaLine parcel={parcel} />
        {notes && <p className="text-[13px] whitespace-pre-line text-ink-2">{notes}</p>}
        <Sendings parcel={parcel} />
      </div>
      <div className="text-right text-[13px]">
        <p className="text-ink-2">
          {say.parcels.takesAbout({ bytes: amount(bytes) })}
          {minutes !== null && `, ${say.parcels.andMinutes({ minutes })}`}
        </p>
        <p className="mt-1">
          <a href={`/api/parcels/${id}`} className="font-[650] text-oxide underline">
            {say.parcels.download}
          </a>
          <ProtectedDownload href={`/api/parcels/${id}`} name={`parcel-${id}.tar`} />
        </p>
      </div>
    </li>
  );
}

function MediaLine({ parcel: { codes, media, withFlux, withFiles } }: { parcel: Parcel }) {
  return (
    <p className="text-[13px]">
      <ListedCodes codes={codes} media={media} />
      <span className="text-ink-2">{say.parcels.holds({ withFlux, withFiles })}</span>
    </p>
  );
}

function Sendings({ parcel: { sendings } }: { parcel: Parcel }) {
  if (sendings.length === 0)
    return <p className="text-[13px] text-ink-2">{say.parcels.neverSent}</p>;
  return (
    <ul className="text-[13px]">
      {sendings.map(({ id, who, sentAt, files, bytes, manifestSha256 }) => (
        <li key={id}>
          <span suppressHydrationWarning>{say.parcels.went({ who, at: when(sentAt) })}</span>
          {`, ${say.parcels.files({ files })}, ${amount(bytes)} · ${say.parcels.manifest} `}
          <span className="font-mono text-[11px] break-all text-ink-2">{manifestSha256}</span>
        </li>
      ))}
    </ul>
  );
}
