'use client';
/** What may be done with a medium, a set or a lot, and what keeps it in the house. */
import { useState } from 'react';
import type { RightsStatement } from '@/core/description/rights';
import { say } from '@/messages';
import type { OwnerKind } from '@/server/features/media/owners';
import type { DocketData } from '../data/queries';
import { TermLine, TERMS } from '../descriptions/term-line';
import { Button } from '../parts/button';
import { RightsDialog } from './rights-dialog';

type Rights = DocketData['rights'];
type HoldOfMedium = DocketData['holds'][number];
/** As a set and a lot have them as well, which say no name. */
type Hold = Omit<HoldOfMedium, 'mediumId' | 'code' | 'name'> & { name?: string };

interface RightsPanelProps {
  kind: OwnerKind;
  /** A code, or the name of a set or a lot. */
  name: string;
  rights: Pick<Rights, 'own' | 'statement'>;
  /** All that holds it today. */
  holds: readonly Hold[];
}

const isKnown = (uri: string): uri is RightsStatement => uri in say.rights.statements;

/** What a statement is called, where it is one of those that are offered. */
const nameOfStatement = (uri: string): string =>
  isKnown(uri) ? `${say.rights.statements[uri]} · ${uri}` : uri;

function StatementLines({ kind, rights: { statement } }: RightsPanelProps) {
  if (!statement) return null;
  const isInherited = kind === 'media' && statement.from !== 'medium';
  return (
    <>
      {statement.statement && (
        <TermLine
          term={say.rights.rights}
          values={[nameOfStatement(statement.statement)]}
          href={statement.statement}
          whose={isInherited && !statement.words ? say.rights.saidOf[statement.from] : null}
        />
      )}
      {statement.words && (
        <TermLine
          term={statement.statement ? '' : say.rights.rights}
          values={[statement.words]}
          whose={isInherited ? say.rights.saidOf[statement.from] : null}
        />
      )}
    </>
  );
}

/** Where it is said, where that is elsewhere. */
const heldBy = (kind: OwnerKind, { from, name = '' }: Hold): string | null =>
  kind === 'media' && from !== 'medium' ? say.rights.heldBy[from]({ name }) : null;

/** What it restricted itself and has opened by now. */
function openedSince({ kind, rights: { own }, holds }: RightsPanelProps): string | null {
  if (!own?.restriction) return null;
  const isHeld = holds.some((hold) => heldBy(kind, hold) === null && !hold.isPersonal);
  return isHeld ? null : say.rights.opened(own.restriction);
}

export const holdWords = ({ isPersonal, opensOn, reason }: Hold): string =>
  isPersonal ? say.rights.isPersonal : `${say.rights.restrictedUntil({ opensOn })}: ${reason}`;

export function RightsPanel(props: RightsPanelProps) {
  const { kind, name, rights, holds } = props;
  const [isOpen, setIsOpen] = useState(false);
  const opened = openedSince(props);
  const isEmpty = !rights.statement && opened === null && holds.length === 0;
  return (
    <div data-testid="rights" className="mt-4">
      <dl className={`mb-3 ${TERMS}`}>
        <StatementLines {...props} />
        {holds.map((hold) => (
          <TermLine
            key={`${hold.from} ${hold.name} ${hold.isPersonal}`}
            term={say.rights.staysHere}
            values={[holdWords(hold)]}
            whose={heldBy(kind, hold)}
          />
        ))}
        {opened !== null && <TermLine term={say.rights.restriction} values={[opened]} />}
        {isEmpty && <TermLine term={say.rights.rights} values={[say.rights.nothingSaid]} />}
      </dl>
      <Button onClick={() => setIsOpen(true)}>{say.rights.setRights}</Button>
      <RightsDialog
        {...{ kind, name, own: rights.own }}
        open={isOpen}
        onClose={() => setIsOpen(false)}
      />
    </div>
  );
}
