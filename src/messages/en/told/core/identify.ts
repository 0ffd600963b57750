/** What the core says of its own accord, by the folder that says it: identify. */
import { grouped } from '@/core/text/grouped';

export const identify = {
  laterSession: ({ number, sector }: { number: number; sector: number }) =>
    `volume ${number} of the disc, of a session that begins with sector ${sector}`,
  dataBehindTheVolume: ({ sector }: { sector: number }) =>
    `Behind the volume, from sector ${sector} on, lie data that it does not list.`,
  itsSectorsStandIn: 'its sectors stand in the other order',
  itsDiskParameterSet: 'its disk parameter set was given',
  fileSystem: 'a file system',
  partitionTable: 'a table of partitions',
  archive: 'a packed file',
  itIsOfAKind: ({ name, sort, at }: { name: string; sort: string; at: number }) =>
    `It bears the mark of ${name}, ${sort} that this version does not read (at byte ${grouped(at)}).`,
  inPartition: ({ number, what }: { number: number; what: string }) =>
    `Partition ${number}: ${what}`,
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
