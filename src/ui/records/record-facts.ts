/** What is registered of a lot or of a set, as lines. */
import { say } from '@/messages';
import { recordPageOf } from '../data/addresses';
import type { RecordPage } from '../data/queries';

type Fact = readonly [name: string, value: string, href?: string];
type Lot = Extract<RecordPage, { kind: 'lots' }>['lot'];

/** Missing places that are told one by one. */
const MOST_TOLD = 40;

function factsOfLot({ lender, cameIn, handBackBy, codePattern, ...policy }: Lot): Fact[] {
  const { notKnown } = say.descriptions;
  const sweep = policy.sweep === 'inward' ? say.descriptions.inward : say.descriptions.outward;
  const how = say.descriptions.reading({ ...policy, sweep });
  return [
    lender
      ? [say.descriptions.lender, lender, recordPageOf('lenders', lender)]
      : [say.descriptions.lender, notKnown],
    [say.descriptions.cameIn, cameIn || notKnown],
    [say.descriptions.handBackBy, handBackBy || notKnown],
    [say.descriptions.howRead, policy.gentle ? `${how}, ${say.descriptions.gently}` : how],
    ...(codePattern ? [[say.descriptions.codePattern, codePattern] as const] : []),
  ];
}

export function factsOf(record: RecordPage): Fact[] {
  if (record.kind === 'lots') return factsOfLot(record.lot);
  const { members, missing } = record;
  const told = missing.slice(0, MOST_TOLD).join(', ');
  return [
    [
      say.descriptions.members,
      members === null ? say.descriptions.notKnown : say.descriptions.membersOf({ members }),
    ],
    ...(missing.length > 0
      ? [[say.descriptions.missing, missing.length > MOST_TOLD ? `${told} …` : told] as const]
      : []),
  ];
}
