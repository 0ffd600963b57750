/** What the feature memoryCards says: in errors, in the ledger, of work under way. */
export const memoryCards = {
  suchADeviceTakes: ({ mostImages, copies }: { mostImages: number; copies: number }) =>
    `Such a device takes ${mostImages} images at most; ${copies} are chosen.`,
  oneOfTheseImages: 'one of these images',
  itCanBe: ({ layout }: { layout: string }) => `; it can be ${layout}`,
  itsLayoutIsNot: ': its layout is not known',
  cantBeWrittenAs: ({ code, kind, why }: { code: string; kind: string; why: string }) =>
    `${code} can't be written as .${kind}${why}. Nothing was made.`,
  cardMadeOfImages: ({ title, images }: { title: string; images: number }) =>
    `Card “${title}” made of ${images} ${images === 1 ? 'image' : 'images'}.`,
  card: ({ id }: { id: number }) => `card ${id}`,
};
