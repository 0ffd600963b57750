import { counted } from '../../words';

/** What the feature holdings says: in errors, in the ledger, of work under way. */
interface Merged {
  code: string;
  into: string;
  reason: string;
  sittings: number;
  copies: number;
  papers: number;
  facts: string[];
}

export const holdings = {
  cantBeACopy: ({ code }: { code: string }) => `${code} can't be a copy of itself.`,
  isACopyOf: ({ code, code2 }: { code: string; code2: string }) =>
    `${code} is a copy of ${code2} already, and was made from one disk. Take that back first.`,
  isItselfACopy: ({ code, code2 }: { code: string; code2: string }) =>
    `${code} is itself a copy that goes back to ${code2}. Take that back first.`,
  isTheSame: ({ code }: { code: string }) => `${code} is one medium already.`,
  isOurs: ({ code }: { code: string }) =>
    `${code} is a blank or a reference disk of ours, which no other medium can be.`,
  otherForm: ({ code, code2 }: { code: string; code2: string }) =>
    `${code} and ${code2} are of different forms, so they are not one. Nothing was changed; ` +
    'correct the form of one first where that is wrong.',
  twoOriginals: ({ code, code2 }: { code: string; code2: string }) =>
    `${code} and ${code2} are said to be copies of different media. Take one of that back first.`,
  merged: ({ code, into, reason, sittings, copies, papers, facts }: Merged) =>
    `${code} and ${into} are one medium (${reason}): ${into} has ` +
    `${counted(sittings, 'sitting')}, ${counted(copies, 'copy', 'copies')} and ` +
    `${counted(papers, 'paper')} of ${code}, which was registered with ${facts.join('; ')}.`,
  isACopyOf2: ({ code, code2 }: { code: string; code2: string }) =>
    `${code} is a copy of ${code2}.`,
  andAreNotThe: ({ code, code2 }: { code: string; code2: string }) =>
    `${code} and ${code2} are not the same, whatever they share.`,
  whatWasSaidOf: ({ code, code2 }: { code: string; code2: string }) =>
    `What was said of ${code} and ${code2} is taken back.`,
  hasNoFairCopy: ({ code }: { code: string }) =>
    `${code} has no fair copy yet: there is nothing to lay side by side.`,
  chooseTwoMedia: 'Choose two media.',
};
