'use client';
/** What is said of a medium, a set or a lot, with whence it has what it does not say itself. */
import { useState } from 'react';
import { say } from '@/messages';
import type { OwnerKind } from '@/server/features/media/owners';
import { Button } from '../parts/button';
import { TermLine, TERMS } from './term-line';
import { DescribeDialog, type Description, type OwnPaper } from './describe-dialog';

interface DescriptionPanelProps {
  kind: OwnerKind;
  name: string;
  /** What it belongs to; of a medium. */
  setName?: string;
  lot?: string;
  description: Description;
  papers: readonly OwnPaper[];
}

type From = Description['elements'][number]['from'];

/** Of what a medium has of others, whose it is. */
function whose(from: From, { kind, setName, lot }: DescriptionPanelProps): string | null {
  if (kind !== 'media' || from === 'medium') return null;
  return from === 'set'
    ? say.descriptions.saidOfSet({ name: setName ?? '' })
    : say.descriptions.saidOfLot({ name: lot ?? '' });
}

export function DescriptionPanel(props: DescriptionPanelProps) {
  const { kind, name, description, papers } = props;
  const [isOpen, setIsOpen] = useState(false);
  const { elements, acquisition } = description;
  const isEmpty = elements.length === 0 && acquisition === null;
  return (
    <div data-testid="description">
      {isEmpty ? (
        <p className="mb-2 text-[14px] text-ink-2">{say.descriptions.nothingSaid}</p>
      ) : (
        <dl className={`mb-3 ${TERMS}`}>
          {elements.map(({ element, values, from }) => (
            <TermLine
              key={element}
              term={say.descriptions.elements[element]}
              values={values}
              whose={whose(from, props)}
            />
          ))}
          {acquisition && <AcquisitionLine {...props} acquisition={acquisition} />}
        </dl>
      )}
      <p className="flex items-center gap-4">
        <Button hotkey="d" onClick={() => setIsOpen(true)}>
          {say.descriptions.describeIt}
        </Button>
        <a
          href={`/api/descriptions/${kind}/${encodeURIComponent(name)}`}
          className="text-[13px] font-[650] text-oxide underline"
        >
          {say.descriptions.asDublinCore}
        </a>
      </p>
      <DescribeDialog
        {...{ kind, name, description, papers }}
        open={isOpen}
        onClose={() => setIsOpen(false)}
      />
    </div>
  );
}

interface AcquisitionLineProps extends DescriptionPanelProps {
  acquisition: NonNullable<Description['acquisition']>;
}

function AcquisitionLine({ acquisition, ...props }: AcquisitionLineProps) {
  const { value, from } = acquisition;
  const { agreements } = props.description;
  const paper = agreements.find(({ id }) => id === value.agreement);
  const how = say.descriptions.howAcquired({
    ...{ from: value.from, on: value.on },
    how: say.descriptions.acquired[value.how],
  });
  return (
    <div className="contents">
      <dt className="text-ink-2 first-letter:uppercase">{say.descriptions.acquisition}</dt>
      <dd className="min-w-0">
        <p className="first-letter:uppercase">{how}</p>
        {value.notes && <p className="whitespace-pre-line">{value.notes}</p>}
        {paper && (
          <a href={`/api/papers/${paper.id}`} className="text-oxide underline">
            {say.descriptions.theAgreement({ name: paper.name })}
          </a>
        )}
        {value.agreement !== null && !paper && <p>{say.descriptions.agreementIsGone}</p>}
        <p className="text-[12px] text-ink-2">{whose(from, props)}</p>
      </dd>
    </div>
  );
}
