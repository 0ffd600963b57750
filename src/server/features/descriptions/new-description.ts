/** What the form of a description takes; the route checks with the same schema. */
import { z } from 'zod';
import { ACQUISITION_WAYS } from '@/core/description/acquisition';
import {
  ELEMENTS,
  holdsValue,
  MAX_VALUE_CHARS,
  MAX_VALUES,
  type ElementName,
} from '@/core/description/elements';
import { isExtendedDate } from '@/core/description/extended-date';
import { say } from '@/messages';
import { atMost } from '../media/new-medium';

/** Why a value can't stand there, of elements that take not any words. */
const ODD: Partial<Record<ElementName, string>> = {
  date: say.descriptions.aDateIs,
  language: say.descriptions.aLanguageIs,
  type: say.descriptions.aTypeIs,
};

const Values = z
  .array(atMost(MAX_VALUE_CHARS).min(1, say.descriptions.sayWhat))
  .max(MAX_VALUES, say.forms.atMostAtOnce({ maxAtOnce: MAX_VALUES }))
  .transform((values) => [...new Set(values)]);

/** Of the elements that are given all values; an empty list says the element no more. */
const SaidElements = z.partialRecord(z.enum(ELEMENTS), Values).superRefine((elements, context) => {
  for (const element of ELEMENTS)
    if (elements[element]?.some((value) => !holdsValue(element, value)))
      context.addIssue({ code: 'custom', path: [element], message: ODD[element]! });
});

const SaidAcquisition = z.object({
  from: atMost(200),
  on: atMost(40).refine((value) => value === '' || isExtendedDate(value), say.descriptions.aDateIs),
  how: z.enum(ACQUISITION_WAYS),
  notes: atMost(2000),
  agreement: z.int().min(1).nullable(),
});

/** What is left out stays as it is. */
export const DescriptionChange = z
  .object({ elements: SaidElements, acquisition: SaidAcquisition.nullable() })
  .partial();

/** As a table says it, which has no papers: of the acquisition what is left out stays as well. */
export const DescriptionRow = z
  .object({
    elements: SaidElements,
    acquisition: SaidAcquisition.omit({ agreement: true }).partial(),
  })
  .partial();
