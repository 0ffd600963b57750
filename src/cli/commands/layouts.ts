/**
 * `spindle layouts`: those that ship, one as JSON, a file checked, or one worked out from a
 * capture.
 */
import { said } from '@/core/said';
import { tell } from '@/messages/tell';
import { parseArgs } from 'node:util';
import { bytesOf, describeLayout, type Layout } from '@/core/layout/layout';
import { layoutJson } from '@/core/layout/layout-json';
import { SHIPPED_LAYOUTS } from '@/core/layout/shipped';
import { decodeFiles, layoutFrom } from '../captures';
import { jsonText, writeOut } from '../files';
import { JobError, tellLine, UsageError } from '../usage';

export async function layoutsCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { json: { type: 'string' }, check: { type: 'string' }, from: { type: 'string' } },
  });
  if (positionals.length > 1) throw new UsageError(said('ofCaptures.layoutsTakes'));
  if (values.check) {
    const layout = await layoutFrom(values.check);
    tellLine(
      said('ofCaptures.isUsable', {
        layout: layout.id,
        what: describeLayout(layout),
        bytes: bytesOf(layout),
      }),
    );
    return;
  }
  if (values.from) {
    const { decoded } = await decodeFiles([values.from]);
    const layout = decoded.layout ?? decoded.proposal;
    if (!layout) throw new JobError(said('ofCaptures.noSectorToProposeFrom'));
    const what = describeLayout(layout);
    tellLine(
      decoded.layout
        ? said('ofCaptures.fits', { layout: layout.id, what })
        : said('ofCaptures.isWorkedOut', { what }),
    );
    await writeOut(values.json ?? '-', jsonText(layoutJson(layout)));
    return;
  }
  const [given] = positionals;
  if (given) {
    await writeOut(values.json ?? '-', jsonText(layoutJson(await layoutFrom(given))));
    return;
  }
  if (values.json) await writeOut(values.json, jsonText(SHIPPED_LAYOUTS.map(layoutJson)));
  else for (const layout of SHIPPED_LAYOUTS) process.stdout.write(`${lineOf(layout)}\n`);
}

function lineOf(layout: Layout): string {
  const bytes = tell(said('image.bytes', { bytes: bytesOf(layout) }));
  return `${layout.id.padEnd(18)}${bytes.padStart(15)}  ${tell(describeLayout(layout))}`;
}
