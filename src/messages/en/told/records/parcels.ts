/** What is said of what is given to others. */
import { counted } from '../../words';

interface MadeParcel {
  id: number;
  title: string;
  recipient: string;
  media: number;
}

interface WentParcel {
  id: number;
  title: string;
  recipient: string;
  manifestSha256: string;
}

export const parcels = {
  noMedia: 'No medium is of that: nothing was made.',
  tooMany: ({ limit }: { limit: number }) => `A parcel takes at most ${limit} media.`,
  parcel: ({ id }: { id: number }) => `parcel ${id}`,
  made: ({ id, title, recipient, media }: MadeParcel) =>
    `Parcel ${id}, ${title}, made for ${recipient}: ${counted(media, 'medium', 'media')}.`,
  went: ({ id, title, recipient, manifestSha256 }: WentParcel) =>
    `Went in parcel ${id}, ${title}, to ${recipient}; SHA-256 of its manifest ${manifestSha256}.`,
};
