import { counted } from '../../words';

/** What the core says of its own accord, by the folder that says it: image. */
export const image = {
  withoutSoundBytesZeros: 'without sound bytes: zeros stand in their place',
  withNoPlaceIn: 'with no place in the image: repeated, or of another number or size',
  withADeletedData: 'with a deleted-data mark',
  thatMayBeAs: 'that may be as they were made',
  withAnotherFormatThan: ({ strange }: { strange: number }) =>
    `${counted(strange, 'track')} with another format than the rest`,
  cantBeWrittenAs: ({ image, kind, possible }: { image: string; kind: string; possible: string }) =>
    `${image} can't be written as ${kind}; it can be ${possible}`,
  thatSayWhyA: ({ bad }: { bad: number }) =>
    `${counted(bad, 'status byte', 'status bytes')} that say${bad === 1 ? 's' : ''} why a sector did not read`,
  layout: ({ id }: { id: string }) => `layout ${id}`,
  bytes: ({ bytes }: { bytes: number }) => `${bytes} bytes`,
  anImageOfKind: ({ kind, what }: { kind: string; what: string }) =>
    `an image of kind ${kind}, ${what},`,
  sectorsThat: ({ n, what }: { n: number; what: string }) => `${counted(n, 'sector')} ${what}`,
};
