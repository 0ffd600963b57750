/** What the core says of its own accord, by the folder that says it: decode. */
export const decode = {
  holdsMoreThanOne: ({ formats }: { formats: string[] }) =>
    `holds more than one format: ${formats.join(', and ')}`,
  liesBetweenTwoCylinders:
    'lies between two cylinders of the layout; what it shows are its neighbours',
  holdsAnotherFormat: ({ format }: { format: string }) => `holds another format: ${format}`,
  noSectorRead: ({ encoding }: { encoding: string }) => `${encoding}, no sector read`,
  found: ({
    encoding,
    sectors,
    first,
    last,
  }: {
    encoding: string;
    sectors: string;
    first: number;
    last: number;
  }) =>
    `${encoding}, ${sectors}, ${first === last ? `number ${first}` : `numbers ${first} to ${last}`}`,
};
