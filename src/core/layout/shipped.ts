/** The layouts that ship: ISO 8860 (3½-inch, 737,280 bytes) and ISO/IEC 9529 (3½-inch, 1,474,560 bytes). */
import type { Layout, TrackGaps } from './layout';

const numbered = (count: number, n: number) => Array.from({ length: count }, (_, i) => ({ r: i + 1, n }));

const GAPS: Omit<TrackGaps, 'afterData'> = { postIndex: 80, indexMark: true, afterIndexMark: 50, syncBytes: 12, idToData: 22 };

export const SHIPPED_LAYOUTS: readonly Layout[] = Object.freeze([
  {
    id: 'mfm-35-9x512', form: '3.5', cylinders: 80, heads: 2, rpm: 300,
    track: { encoding: 'mfm', rateKbps: 250, sectors: numbered(9, 2), gaps: { ...GAPS, afterData: 84 } },
  },
  {
    id: 'mfm-35-18x512', form: '3.5', cylinders: 80, heads: 2, rpm: 300,
    track: { encoding: 'mfm', rateKbps: 500, sectors: numbered(18, 2), gaps: { ...GAPS, afterData: 84 } },
  },
] satisfies Layout[]);

export function shippedLayout(id: string): Layout | undefined {
  return SHIPPED_LAYOUTS.find((layout) => layout.id === id);
}
