/** `spindle compare`: what differs between two captures or images, sector by sector. */
import { said } from '@/core/said';
import { tell } from '@/messages/tell';
import { parseArgs } from 'node:util';
import { tracksOfImage, type Layout } from '@/core/layout/layout';
import {
  compareSectors,
  tallyDifferences,
  type ComparedSector,
} from '@/core/reading/analysis/compare';
import { decodeFiles, layoutFrom, looksLikeCapture } from '../captures';
import { jsonText, readWhole, writeOut } from '../files';
import { imageOf } from '../images';
import { JobError, UsageError } from '../usage';

interface Side {
  layout: Layout | null;
  sectors: ComparedSector[];
}

const BLOCK = 512;

/**
 * The sectors of an image; of one whose layout is not known, blocks of 512 bytes on one endless
 * track.
 */
function sectorsOfImage(layout: Layout | null, bytes: Uint8Array): ComparedSector[] {
  if (layout) {
    return tracksOfImage(layout).flatMap(({ cylinder, head, places }) =>
      places.map(({ r, offset, bytes: size }) => ({
        cylinder,
        head,
        r,
        size,
        grade: 'firm' as const,
        data: bytes.subarray(offset, offset + size),
      })),
    );
  }
  return Array.from({ length: Math.ceil(bytes.length / BLOCK) }, (_, r) => ({
    cylinder: 0,
    head: 0,
    r,
    size: BLOCK,
    grade: 'firm' as const,
    data: bytes.subarray(r * BLOCK, (r + 1) * BLOCK),
  }));
}

async function side(path: string, layout: Layout | null): Promise<Side> {
  const bytes = await readWhole(path);
  if (looksLikeCapture(bytes)) {
    const { decoded, sectors } = await decodeFiles([path], { layout });
    return {
      layout: decoded.layout,
      sectors: sectors.map((sector) => ({
        ...sector,
        cylinder: sector.cylinder / decoded.stepping,
      })),
    };
  }
  const image = imageOf(path, bytes, { layout });
  return { layout: image.layout, sectors: sectorsOfImage(image.layout, image.bytes) };
}

const WORDS = {
  differ: said('ofCaptures.differ'),
  'first-only': said('ofCaptures.firstOnly'),
  'second-only': said('ofCaptures.secondOnly'),
  neither: said('ofCaptures.neither'),
  same: said('ofCaptures.same'),
} as const;

const nameOf = (layout: Layout | null) => layout?.id ?? said('ofCaptures.ofNoKnownLayout');

export async function compareCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { json: { type: 'string' }, layout: { type: 'string' } },
  });
  const [a, b, ...more] = positionals;
  if (!a || !b || more.length > 0) throw new UsageError(said('ofCaptures.compareTakes'));
  const layout = values.layout ? await layoutFrom(values.layout) : null;
  const first = await side(a, layout);
  // What one side shows of its layout is taken for the other, where that is an image that could be
  // several.
  const second = await side(
    b,
    layout ?? (first.layout && !looksLikeCapture(await readWhole(b)) ? first.layout : null),
  );
  if (first.layout?.id !== second.layout?.id)
    throw new JobError(
      said('ofCaptures.areNoMatch', {
        a,
        b,
        first: nameOf(first.layout),
        second: nameOf(second.layout),
      }),
    );
  const all = compareSectors(first.sectors, second.sectors);
  const tally = tallyDifferences(all);
  const shown = all.filter(({ difference }) => difference !== 'same');
  const json = { layout: first.layout?.id ?? null, tally, sectors: shown };
  if (values.json) await writeOut(values.json, jsonText(json));
  else process.stdout.write(shown.map(lineOf).join(''));
  process.stderr.write(`${tallyLine(tally)}\n`);
}

type Compared = ReturnType<typeof compareSectors>[number];

const lineOf = ({ cylinder, head, r, difference, firstByte, bytes }: Compared): string => {
  const what = said('ofCaptures.sectorCompared', {
    cylinder,
    head,
    r,
    difference: WORDS[difference],
  });
  const line = bytes ? said('ofCaptures.differsFrom', { what, bytes, from: firstByte! }) : what;
  return `${tell(line)}\n`;
};

const tallyLine = (tally: ReturnType<typeof tallyDifferences>): string =>
  (Object.keys(WORDS) as (keyof typeof WORDS)[])
    .filter((key) => tally[key] > 0)
    .map((key) => `${tally[key]} ${tell(WORDS[key])}`)
    .join(', ');
