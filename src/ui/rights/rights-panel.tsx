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
type Hold = DocketData['holds'][number];

interface RightsPanelProps {
  kind: OwnerKind;
  /** A code, or the name of a set or a lot. */
  name: string;
  rights: Rights;
  /** Of a medium: all that holds it. */
  holds?: readonly Hold[];
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

/** What a set or a lot says, or what a medium said and is over. */
function ownLines({ own }: Rights, holds: readonly Hold[] | undefined): string[] {
  if (!own) return [];
  const { restriction, isPersonal } = own;
  if (!holds)
    return [
      ...(restriction ? [`${say.rights.restrictedUntil(restriction)}: ${restriction.reason}`] : []),
      ...(isPersonal ? [say.rights.isPersonal] : []),
    ];
  const isOver = restriction && !holds.some((hold) => hold.from === 'medium' && !hold.isPersonal);
  return isOver ? [say.rights.opened(restriction)] : [];
}

export const holdWords = ({ isPersonal, opensOn, reason }: Hold): string =>
  isPersonal ? say.rights.isPersonal : `${say.rights.restrictedUntil({ opensOn })}: ${reason}`;

export function RightsPanel(props: RightsPanelProps) {
  const { kind, name, rights, holds } = props;
  const [isOpen, setIsOpen] = useState(false);
  const own = ownLines(rights, holds);
  const isEmpty = !rights.statement && own.length === 0 && !holds?.length;
  return (
    <div data-testid="rights" className="mt-4">
      <dl className={`mb-3 ${TERMS}`}>
        <StatementLines {...props} />
        {holds?.map((hold) => (
          <TermLine
            key={`${hold.from} ${hold.name} ${hold.isPersonal}`}
            term={say.rights.staysHere}
            values={[holdWords(hold)]}
            whose={hold.from === 'medium' ? null : say.rights.heldBy[hold.from](hold)}
          />
        ))}
        {own.length > 0 && <TermLine term={say.rights.restriction} values={own} />}
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
