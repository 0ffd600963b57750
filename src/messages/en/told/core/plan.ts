import { ordinal } from '../../words';

/** What the core says of its own accord, by the folder that says it: plan. */
export const plan = {
  inUse: 'in use',
  everything: 'everything',
  endOfTheLastVolume: 'end of the last volume',
  aMediumThatSheds: 'A medium that sheds was read: clean the head before the next one.',
  readingsSinceItWas: ({ readings }: { readings: number }) =>
    `${readings} readings since it was last cleaned: clean the head before the next medium.`,
  comingFromTheInside: 'coming from the inside',
  aLittleOutwardOf: 'a little outward of its track',
  aLittleInwardOf: 'a little inward of its track',
  comingFromTheOutside: 'coming from the outside',
  overMoreTurns: 'over more turns',
  gaveNear: ({ how, gained, of }: { how: string; gained: number; of: number }) =>
    `${how}, which gave ${gained} of ${of} sectors on tracks near it`,
  readingCylinderHead: ({ cylinder, head }: { cylinder: number; head: number }) =>
    `Reading cylinder ${cylinder}, head ${head}`,
  nothingMoreToRead: ({ left }: { left: number }) =>
    `${
      left === 0
        ? 'Every sector is sound.'
        : `${left} ${left === 1 ? 'track is' : 'tracks are'} left with sectors in doubt; reading ` +
          'them again brought nothing more.'
    }`,
  withACleanHead: 'with a clean head',
  readingCylinderHeadFor: ({
    cylinder,
    head,
    tries,
    how,
  }: {
    cylinder: number;
    head: number;
    tries: number;
    how: string | null;
  }) =>
    `Reading cylinder ${cylinder}, head ${head}, for the ${ordinal(tries)} time${how === null ? '' : `, ${how}`}`,
  noKnownLayoutFits: ({ formats }: { formats: string[] }) =>
    `No known layout fits; the first tracks show ${formats.join(' and ')}`,
  nothingWasMadeOut: 'Nothing was made out on the first tracks',
  readAllCylinders: ({
    form,
    seen,
    cylinders,
  }: {
    form: string;
    seen: string;
    cylinders: number;
  }) => `${form}: ${seen}. Read all ${cylinders} cylinders?`,
  endOfTheLayout: 'end of the layout',
  cylindersTwoHeads: ({
    form,
    cylinders,
    heads,
    tracks,
  }: {
    form: string;
    cylinders: number;
    heads: number;
    tracks: string[];
  }) =>
    `${form}, ${cylinders} cylinders, ${heads === 1 ? 'one head' : 'two heads'}, ${tracks.join(', then ')}`,
  go: ({ shows }: { shows: string }) => `${shows}: go?`,
  shows: ({ describes, step }: { describes: string; step: number }) =>
    `${describes}${step === 2 ? ', two steps a cylinder' : ''}`,
  onCylinders: ({ format, from, to }: { format: string; from: number; to: number }) =>
    `${format} on cylinders ${from} to ${to}`,
};
