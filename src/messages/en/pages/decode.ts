/** What is said in the pages of decode. */
export const decode = {
  thePageCouldNot: 'the page could not start its loupe',
  thePageCouldNotStart: 'the page could not start its decoder',
  theReadingsOfThis: "The readings of this track can't be had.",
};
