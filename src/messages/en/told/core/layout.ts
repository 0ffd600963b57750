/** What is said of a layout. */
import { grouped } from '@/core/text/grouped';

export const layout = {
  format: ({
    encoding,
    rateKbps,
    sectors,
  }: {
    encoding: string;
    rateKbps: number;
    sectors: string;
  }) => `${encoding}, ${rateKbps} kbit/s, ${sectors}`,
  zones: ({ encoding, zones }: { encoding: string; zones: number }) =>
    `${encoding} in ${zones} zones`,
  describes: ({
    forms,
    cylinders,
    heads,
    formats,
  }: {
    forms: string[];
    cylinders: number;
    heads: number;
    formats: string[];
  }) =>
    `${forms.join(' or ')}, ${cylinders} cylinders, ${heads} ` +
    `${heads === 1 ? 'head' : 'heads'}, ${formats.join(', then ')}`,
  evidence: ({
    shared,
    all,
    sectors,
    onRate,
    rated,
    ids,
  }: {
    shared: number;
    all: number;
    sectors: string;
    onRate: number;
    rated: number;
    ids: number;
  }) =>
    `${grouped(shared)} of ${grouped(all)} sectors found or expected are ${sectors} with its numbers, ` +
    `${onRate} of ${rated} tracks have its code and rate, ${grouped(ids)} IDs say the place they ` +
    'stand at',
};
