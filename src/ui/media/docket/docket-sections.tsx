'use client';
/** Sections of a docket that are small enough to stand together: names, relations, sittings. */
import { useMutation } from '@tanstack/react-query';
import Link from 'next/link';
import { Fragment } from 'react';
import { post } from '@/ui/data/api';
import { type DocketData } from '@/ui/data/queries';
import { DescriptionPanel } from '@/ui/descriptions/description-panel';
import { RightsPanel } from '@/ui/rights/rights-panel';
import { ErrorAlert, when } from '@/ui/parts/page';
import { say } from '@/messages';
import { docketPage, recordPageOf, sideBySidePage } from '../../data/addresses';

/**
 * What the volumes call themselves, beside what the sticker says: taken as the title by one press.
 */
export function OwnNames({ data: { medium, contents } }: { data: DocketData }) {
  const names = [
    ...new Set(
      contents.flatMap(({ label, inside }) =>
        label?.trim() && inside === null ? [label.trim()] : [],
      ),
    ),
  ];
  const take = useMutation({
    mutationFn: (title: string) => post(`/api/media/${encodeURIComponent(medium.code)}`, { title }),
  });
  if (names.length === 0) return null;
  return (
    <div className="mb-3 text-[13px]" data-testid="own-names">
      <p>
        {say.docket.theVolumesCallThemselves({ names: names.length })}{' '}
        {names.slice(0, 6).map((name, i) => (
          <Fragment key={name}>
            {i > 0 && ', '}
            <b>“{name}”</b>
            {name !== medium.title && (
              <button
                type="button"
                onClick={() => take.mutate(name.slice(0, 200))}
                className="ml-1.5 text-oxide underline"
              >
                {say.docket.takeItAsThe}
              </button>
            )}
          </Fragment>
        ))}
        ;{' '}
        {medium.labelText ? (
          <>{say.docket.theStickerSays({ labelText: medium.labelText })}</>
        ) : (
          say.docket.nothingIsNotedOf
        )}
        {say.docket.theDocketIsTitled} <b>{medium.title}</b>.
      </p>
      <ErrorAlert>{take.error?.message}</ErrorAlert>
    </div>
  );
}

const RELATED = {
  'copy-of': say.docket.aCopyOf,
  'has-copy': say.docket.thereIsACopy,
  'not-the-same': say.docket.settledAsNotThe,
} as const;

/** What was settled of it and others. */
export function Related({ data: { medium, related } }: { data: DocketData }) {
  if (related.length === 0) return null;
  return (
    <p className="mt-2 text-[13px]" data-testid="related">
      {related.map(({ kind, code }, i) => (
        <Fragment key={code}>
          {i > 0 && ' · '}
          {RELATED[kind]}{' '}
          <Link href={docketPage(code)} className="font-mono font-[650] hover:underline">
            {code}
          </Link>{' '}
          (
          <Link href={sideBySidePage(medium.code, code)} className="text-oxide underline">
            {say.docket.sideBySide}
          </Link>
          )
        </Fragment>
      ))}
    </p>
  );
}

export function Sittings({ data: { sittings, copy } }: { data: DocketData }) {
  if (sittings.length === 0)
    return (
      <p className="text-ink-2">
        {copy ? say.docket.noneHereTakenIn({ sourceName: copy.sourceName }) : say.docket.noneYet}
      </p>
    );
  return (
    <table className="w-full border-collapse text-[13px]">
      <SittingsHead />
      <tbody>
        {sittings.map((sitting) => (
          <SittingRow key={sitting.id} sitting={sitting} />
        ))}
      </tbody>
    </table>
  );
}

function SittingsHead() {
  return (
    <thead>
      <tr className="border-b border-line">
        <th>{say.docket.started}</th>
        <th>{say.docket.station}</th>
        <th className="pr-4 text-right">{say.docket.readings}</th>
        <th>{say.docket.layout}</th>
        <th>{say.docket.howItCameOut}</th>
        <th>{say.docket.capture}</th>
      </tr>
    </thead>
  );
}

function SittingRow({ sitting }: { sitting: DocketData['sittings'][number] }) {
  return (
    <tr className="h-8 border-b border-line">
      <td className="pr-4" suppressHydrationWarning>
        {when(sitting.startedAt)}
      </td>
      <td className="pr-4">{sitting.stationId}</td>
      <td className="pr-4 text-right">{sitting.readings}</td>
      <td className="pr-4">{sitting.device ? say.docket.blocks : (sitting.layout ?? 'none')}</td>
      <td className="pr-4">{sitting.now}</td>
      <td>
        {sitting.captureBlob && (
          <a href={`/api/captures/${sitting.id}`} className="font-[650] text-oxide hover:underline">
            {say.docket.download}
          </a>
        )}
      </td>
    </tr>
  );
}

/** From whom it came, with what, and out of what: each is a record with a page. */
export function Whence({ medium }: Pick<DocketData, 'medium'>) {
  const { lender, lot, setName, machine } = medium;
  const named = [
    [say.media.lender, 'lenders', lender],
    [say.media.lot, 'lots', lot],
    [say.media.set, 'sets', setName],
    [say.named.machine, 'machines', machine],
  ] as const;
  const known = named.filter(([, , name]) => name !== '');
  if (known.length === 0 || medium.isBlank) return null;
  return (
    <p className="mt-1 text-[13px]" data-testid="whence">
      {known.map(([what, kind, name], i) => (
        <Fragment key={kind}>
          {i > 0 && ' · '}
          <span className="text-ink-2">{what}</span>{' '}
          <Link href={recordPageOf(kind, name)} className="underline">
            {name}
          </Link>
        </Fragment>
      ))}
    </p>
  );
}

/** What is said of it, and what may be done with it. */
export function Description({ data }: { data: DocketData }) {
  const { medium, description, papers, rights, holds } = data;
  const { code, setName, lot } = medium;
  return (
    <>
      <DescriptionPanel
        {...{ setName, lot, description }}
        kind="media"
        name={code}
        papers={papers.filter(({ own }) => own)}
      />
      <RightsPanel kind="media" name={code} rights={rights} holds={holds} />
    </>
  );
}
