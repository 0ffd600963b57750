/** What the feature holdings says: in errors, in the ledger, of work under way. */
export const holdings = {
  cantBeACopy: ({ code }: { code: string }) => `${code} can't be a copy of itself.`,
  isACopyOf: ({ code, code2 }: { code: string; code2: string }) =>
    `${code} is a copy of ${code2} already, and was made from one disk. Take that back first.`,
  isItselfACopy: ({ code, code2 }: { code: string; code2: string }) =>
    `${code} is itself a copy that goes back to ${code2}. Take that back first.`,
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
