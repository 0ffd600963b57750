/** What changes of a description: element by element, and how it was acquired. */
import type { ElementName } from '@/core/description/elements';
import { said, type Said, type Words } from '@/core/said';

export interface DescriptionFact {
  fact: ElementName | 'acquisition';
  was: Words;
  now: Words;
}

/** As the ledger has it. */
export const changeSaid = ({ fact, was, now }: DescriptionFact): Said =>
  fact === 'acquisition'
    ? said('descriptions.acquisitionWasNow', { was, now })
    : said('descriptions.elementWasNow', { element: fact, was, now });
