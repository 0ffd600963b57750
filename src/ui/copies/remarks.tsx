'use client';
/** Oddities of a surface: what may be as it was made, which a person decides, and what is harmless. */
import { tell } from '@/messages/tell';
import { useMutation, UseMutationResult } from '@tanstack/react-query';
import { ApiError, post } from '../data/api';
import type { DocketData } from '../data/queries';
import { ErrorAlert } from '../parts/page';
import type { TrackPlace } from '../decode/track-data';
import { LISTED, type Copy, Place } from './surface-place';
import { say } from '@/messages';

interface PlacedRemark {
  cylinder: number;
  head: number;
  r: number;
  kind: 'odd-harmless' | 'as-made';
  what: string;
}

const remarksOf = (surface: NonNullable<Copy['surface']>): PlacedRemark[] =>
  surface.flatMap(({ cylinder, head, sectors }) =>
    sectors.flatMap(({ r, remarks = [] }) =>
      remarks.map(({ kind, what }) => ({ cylinder, head, r, kind, what: tell(what) })),
    ),
  );

interface RemarksProps {
  data: DocketData;
  surface: NonNullable<Copy['surface']>;
  onOpen: (place: TrackPlace) => void;
}

export function Remarks({ data, surface, onOpen }: RemarksProps) {
  const judge = useMutation({
    mutationFn: (body: object) =>
      post(`/api/docket/${encodeURIComponent(data.medium.code)}/verdicts`, body),
  });
  const remarks = remarksOf(surface);
  const made = remarks.filter(({ kind }) => kind === 'as-made');
  const odd = remarks.filter(({ kind }) => kind === 'odd-harmless');
  if (remarks.length === 0) return null;
  const verdictOf = (at: PlacedRemark) =>
    data.verdicts.find(
      ({ cylinder, head, r }) => cylinder === at.cylinder && head === at.head && r === at.r,
    )?.verdict;
  return (
    <div className="mt-4" data-testid="remarks">
      {made.length > 0 && (
        <>
          <h3 className="text-[15px] font-[650]">
            {say.copies.sectorsMayBeAs({ made: made.length })}
          </h3>
          <p className="text-[13px] text-ink-2">{say.copies.whatWasPutOn}</p>
          <ul className="mt-1 text-[13px]">
            {made.slice(0, LISTED).map((remark, i) => {
              const verdict = verdictOf(remark);
              const decide = (said: 'as-made' | 'damage') =>
                judge.mutate({
                  cylinder: remark.cylinder,
                  head: remark.head,
                  r: remark.r,
                  verdict: said,
                  what: remark.what,
                });
              return (
                <MadeRemark
                  key={i}
                  remark={remark}
                  onOpen={onOpen}
                  verdict={verdict}
                  judge={judge}
                  decide={decide}
                />
              );
            })}
            {made.length > LISTED && (
              <li className="py-1 text-ink-2">
                {say.copies.andMore2({ made: made.length - LISTED })}
              </li>
            )}
          </ul>
          <ErrorAlert>{judge.error instanceof ApiError ? judge.error.message : null}</ErrorAlert>
        </>
      )}
      {odd.length > 0 && <HarmlessRemarks odd={odd} onOpen={onOpen} />}
    </div>
  );
}

interface MadeRemarkProps {
  remark: PlacedRemark;
  onOpen: (place: TrackPlace) => void;
  verdict: string | undefined;
  judge: UseMutationResult<unknown, Error, object, unknown>;
  decide: (said: 'as-made' | 'damage') => void;
}

interface VerdictProps {
  disabled: boolean;
  onClick: () => void;
  children: string;
}

function Verdict({ disabled, onClick, children }: VerdictProps) {
  return (
    <button
      type="button"
      disabled={disabled}
      onClick={onClick}
      className="font-[650] text-oxide hover:underline disabled:opacity-45"
    >
      {children}
    </button>
  );
}

function MadeRemark({ remark, onOpen, verdict, judge, decide }: MadeRemarkProps) {
  return (
    <li className="flex items-baseline gap-3 border-b border-line py-1">
      <span className="flex-1">
        <Place {...remark} onOpen={onOpen} /> {remark.what}
      </span>
      {verdict ? (
        <b className="text-verdigris">
          {verdict === 'as-made' ? say.copies.keptAsMade : say.copies.heldToBeDamage}
        </b>
      ) : null}
      {verdict !== 'as-made' && (
        <Verdict disabled={judge.isPending} onClick={() => decide('as-made')}>
          {say.copies.asMadeKeepIt}
        </Verdict>
      )}
      {verdict !== 'damage' && (
        <Verdict disabled={judge.isPending} onClick={() => decide('damage')}>
          {say.copies.itIsDamage}
        </Verdict>
      )}
    </li>
  );
}

interface HarmlessRemarksProps {
  odd: PlacedRemark[];
  onOpen: (place: TrackPlace) => void;
}

function HarmlessRemarks({ odd, onOpen }: HarmlessRemarksProps) {
  return (
    <details className="mt-2 text-[13px]">
      <summary className="cursor-pointer">
        <b>{odd.length}</b> {say.copies.sectorsAreOddHarmless({ odd: odd.length })}
      </summary>
      <ul className="mt-1 text-ink-2">
        {odd.slice(0, LISTED).map((remark, i) => (
          <li key={i} className="py-0.5">
            <Place {...remark} onOpen={onOpen} /> {remark.what}
          </li>
        ))}
        {odd.length > LISTED && (
          <li className="py-0.5">{say.copies.andMore3({ odd: odd.length - LISTED })}</li>
        )}
      </ul>
    </details>
  );
}
