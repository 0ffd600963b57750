'use client';
/**
 * The surface of a fair copy: surface, what layout it follows and why, what is strange or
 * remarkable
 * on it, a track at a time.
 */
import { tell } from '@/messages/tell';
import { useMutation } from '@tanstack/react-query';
import { useMemo, useState, type FormEvent } from 'react';
import { fileNameOfCode } from '@/core/medium-code';
import type { Difference } from '@/core/reading/analysis/compare';
import type { Layout } from '@/core/layout/layout';
import { SurfaceChart } from '../charts/surface-chart';
import { ApiError, post } from '../data/api';
import type { DocketData } from '../data/queries';
import { TallyRow } from '../parts/grade';
import { EmptyState, ErrorAlert } from '../parts/page';
import { BlockSurface } from './block-surface';
import { Differences } from './differences';
import type { TrackPlace } from '../decode/track-data';
import { TrackPanel } from './track-panel';
import { Remarks } from './remarks';
import { SettlingState } from './settling-state';
import { LISTED, type Copy, Place } from './surface-place';
import { say } from '@/messages';

export function Surface({ data }: { data: DocketData }) {
  const { copy, layout, capture } = data;
  const [place, setPlace] = useState<TrackPlace | null>(null);
  const [differences, setDifferences] = useState<ReadonlyMap<string, Difference> | null>(null);
  const surface = useMemo(
    () => copy?.surface?.map((track) => ({ ...track, tries: track.tries ?? 1 })) ?? [],
    [copy?.surface],
  );
  if (copy?.blocks) return <BlockSurface data={data} kept={copy.blocks} />;
  if (!copy?.tally || surface.length === 0)
    return (
      <EmptyState>{copy ? say.copies.aFlatImageSays : say.copies.thereIsNoReading}</EmptyState>
    );
  const heads = Math.max(layout?.rule.heads ?? 1, ...surface.map(({ head }) => head + 1));
  const cylinders = Math.max(
    (layout?.rule.cylinders ?? 80) * (layout?.rule.stepping === 'double' ? 2 : 1),
    ...surface.map(({ cylinder }) => cylinder + 1),
  );
  return (
    <>
      <div className="mb-3">
        <TallyRow tally={copy.tally} />
        <NextDrive expected={data.nextDrive} />
      </div>
      <SurfaceChart
        tracks={surface}
        cylinders={cylinders}
        heads={heads}
        height={340}
        onOpen={capture ? setPlace : undefined}
        differences={differences}
        name={`${fileNameOfCode(data.medium.code)}-surface`}
      />
      {place && (
        <TrackPanel
          key={`${place.cylinder}/${place.head}`}
          code={data.medium.code}
          copyId={copy.id}
          place={place}
          layout={(layout?.rule as Layout | undefined) ?? null}
          onClose={() => setPlace(null)}
        />
      )}
      <SettlingState data={data} />
      <Following data={data} copy={copy} />
      <Strange copy={copy} onOpen={setPlace} />
      <Remarks data={data} surface={copy.surface!} onOpen={setPlace} />
      <Differences data={data} onShown={setDifferences} />
    </>
  );
}

/** Which other drive should give some of what is in doubt, and why. */
export function NextDrive({ expected }: { expected: DocketData['nextDrive'] }) {
  if (!expected) return null;
  const { station, readIn, share, inDoubt, of, gained, isSlower } = expected;
  const sectors = Math.max(1, Math.round(share * inDoubt));
  return (
    <p className="mt-2 text-[13px] text-ink-2" data-testid="next-drive">
      {say.copies.anotherDriveShould({ station, sectors, inDoubt })}{' '}
      {isSlower && `${say.copies.itTurnsSlower({ readIn })} `}
      {of > 0 && say.copies.itGaveOfOthers({ gained, of })}
    </p>
  );
}

/**
 * Which layout the image follows and what speaks for it; or the one that was worked out, to be
 * kept.
 */
function Following({ data: { layout }, copy }: { data: DocketData; copy: Copy }) {
  const [best] = copy.matches ?? [];
  if (copy.proposal) return <Proposal copy={copy} describes={layout?.describes ?? ''} />;
  if (!layout) return null;
  return (
    <p className="mt-3 text-[13px] text-ink-2">
      {say.copies.layout} <b className="text-ink">{layout.rule.id}</b>: {layout.describes}.
      {best ? ` ${Math.round(best.confidence * 100)} %: ${tell(best.evidence)}.` : ''}
      {(copy.matches?.[1]?.confidence ?? 0) > 0.2 &&
        say.copies.nextWouldBeWith({
          id: copy.matches![1]!.id,
          confidence: Math.round(copy.matches![1]!.confidence * 100),
        })}
    </p>
  );
}

function Proposal({ copy, describes }: { copy: Copy; describes: string }) {
  const [id, setId] = useState('');
  const [title, setTitle] = useState('');
  const keep = useMutation({ mutationFn: () => post(`/api/proposals/${copy.id}`, { id, title }) });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    keep.mutate();
  };
  const field = 'mt-0.5 block border border-line bg-ground px-2 py-1.5 text-[14px] text-ink';
  return (
    <form
      onSubmit={submit}
      data-testid="proposal"
      className="mt-3 border border-l-[7px] border-line border-l-ochre bg-sheet px-4 py-3"
    >
      <h3 className="text-[15px] font-[650]">{say.copies.noKnownLayoutFits}</h3>
      <p className="mb-2 text-[13px] text-ink-2">{say.copies.keepItUnderA({ describes })}</p>
      <div className="flex items-end gap-2">
        <label className="text-[13px] text-ink-2">
          {say.copies.itsId}
          <input
            value={id}
            onChange={(event) => setId(event.target.value)}
            placeholder="mfm-35-7x512"
            required
            className={`${field} font-mono`}
          />
        </label>
        <label className="flex-1 text-[13px] text-ink-2">
          {say.copies.whatItIs}
          <input
            value={title}
            onChange={(event) => setTitle(event.target.value)}
            maxLength={200}
            className={`${field} w-full`}
          />
        </label>
        <button
          type="submit"
          disabled={keep.isPending}
          className="min-h-9 rounded-sm border border-oxide bg-oxide px-3 font-[650] text-oxide-ink disabled:opacity-45"
        >
          {say.copies.keepTheLayout}
        </button>
      </div>
      <ErrorAlert>{keep.error instanceof ApiError ? keep.error.message : null}</ErrorAlert>
    </form>
  );
}

function Strange({ copy, onOpen }: { copy: Copy; onOpen: (place: TrackPlace) => void }) {
  const strange = copy.strange ?? [];
  if (strange.length === 0) return null;
  return (
    <div className="mt-4">
      <h3 className="text-[15px] font-[650]">
        {say.copies.tracksHoldSomethingElse({ strange: strange.length })}
      </h3>
      <ul className="mt-1 text-[13px]">
        {strange.slice(0, LISTED).map(({ cylinder, head, what }) => (
          <li key={`${cylinder}/${head}`} className="border-b border-line py-1">
            <Place cylinder={cylinder} head={head} onOpen={onOpen} /> {tell(what)}
          </li>
        ))}
        {strange.length > LISTED && (
          <li className="py-1 text-ink-2">
            {say.copies.andMore4({ strange: strange.length - LISTED })}
          </li>
        )}
      </ul>
    </div>
  );
}
