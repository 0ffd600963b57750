/**
 * `spindle layouts`: those that ship, one as JSON, a file checked, or one worked out from a
 * capture.
 */
import { tell } from '@/messages/tell';
import { parseArgs } from 'node:util';
import { bytesOf, describeLayout } from '@/core/layout/layout';
import { layoutJson } from '@/core/layout/layout-json';
import { SHIPPED_LAYOUTS } from '@/core/layout/shipped';
import { decodeFiles, layoutFrom } from '../captures';
import { jsonText, writeOut } from '../files';
import { JobError, UsageError } from '../usage';

export async function layoutsCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { json: { type: 'string' }, check: { type: 'string' }, from: { type: 'string' } },
  });
  if (positionals.length > 1) throw new UsageError('layouts takes one id or file at the most');
  if (values.check) {
    const layout = await layoutFrom(values.check);
    process.stderr.write(
      `${layout.id} is a usable layout: ${tell(describeLayout(layout))}, ${bytesOf(layout)} bytes\n`,
    );
    return;
  }
  if (values.from) {
    const { decoded } = await decodeFiles([values.from]);
    const layout = decoded.layout ?? decoded.proposal;
    if (!layout) throw new JobError('No sector was found that a layout could be worked out from.');
    process.stderr.write(
      `${decoded.layout ? `${layout.id} fits` : 'No layout fits; this one is worked out from what is there'}: ` +
        `${tell(describeLayout(layout))}\n`,
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
  else
    for (const layout of SHIPPED_LAYOUTS)
      process.stdout.write(
        `${layout.id.padEnd(18)}${String(bytesOf(layout)).padStart(9)} bytes  ` +
          `${tell(describeLayout(layout))}\n`,
      );
}
