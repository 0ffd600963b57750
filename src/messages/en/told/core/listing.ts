/** What the core says of its own accord, by the folder that says it: listing. */
import { grouped } from '@/core/text/grouped';

export const listing = {
  onlyTheFirst: ({ lines }: { lines: number }) =>
    `Only the first ${grouped(lines)} lines are listed.`,
  linkLeadsElsewhere: ({ line }: { line: number }) =>
    `Line ${line} does not end where its link says; what follows it is not listed.`,
  noLineBegins: ({ line }: { line: number }) =>
    `Behind line ${line} no line begins; what follows is not listed.`,
};
