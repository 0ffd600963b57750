/** What the core says of its own accord, by the folder that says it: identify. */
export const identify = {
  itsSectorsStandIn: 'its sectors stand in the other order',
  itsDiskParameterSet: 'its disk parameter set was given',
  partitionTypeHHolds: ({ number, type }: { number: number; type: string }) =>
    `Partition ${number} (type ${type}h) holds no volume that this version knows.`,
  theImageMayBe: ({ source }: { source: number }) =>
    `${
      source === 0
        ? 'The image is empty.'
        : 'No volume that this version knows was found: the image may be unformatted, damaged in ' +
          'its first sectors, or of another kind.'
    }`,
};
