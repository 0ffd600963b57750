/** What a record of another house says, as this one registers and describes it. */
import type { z } from 'zod';
import type { MediumRecord } from '@/core/description/medium-record';
import { said } from '@/core/said';
import { UserError } from '@/server/platform/errors';
import { DescriptionChange } from '../descriptions/new-description';
import { NewMedium } from '../media/new-medium';

/** One that is a code, for what is only looked at. */
export const ANY_CODE = 'MED-1';

function oddRecord(code: string, { issues }: z.ZodError): UserError {
  const { path, message: why } = issues[0]!;
  return new UserError(said('bags.recordIsOdd', { code, field: path.join('.'), why }), 422);
}

/** Throws UserError, 422, where it has no form that is known here. */
export function factsOf(
  record: MediumRecord,
  { code, lot }: { code: string; lot: string },
): z.output<typeof NewMedium> {
  const { form, title, sticker, lender, machine = '', set, place } = record;
  const facts = NewMedium.safeParse({
    ...{ code, form, title: title || record.code, labelText: sticker },
    ...{ lender, lot: lot || record.lot, machine, setName: set, setNumber: place },
  });
  if (!facts.success) throw oddRecord(record.code, facts.error);
  return facts.data;
}

/** The same; the agreement stayed in the other house. */
export function descriptionOf({
  code,
  elements,
  acquisition,
}: MediumRecord): z.output<typeof DescriptionChange> {
  const change = DescriptionChange.safeParse({
    elements,
    acquisition: acquisition && { ...acquisition, agreement: null },
  });
  if (!change.success) throw oddRecord(code, change.error);
  return change.data;
}
