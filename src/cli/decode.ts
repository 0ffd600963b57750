/** `spindle decode`: a capture to sectors, flat image and card. */
import { parseArgs } from 'node:util';
import { toHex } from '@/core/digester';
import { readContainer } from '@/core/flux/container-reader';
import { buildCard, cardSector } from '@/core/image/card';
import { buildFlatImage } from '@/core/image/flat';
import { describeLayout } from '@/core/layout/layout';
import { SHIPPED_LAYOUTS } from '@/core/layout/shipped';
import { allSectors, decodeCapture } from '@/core/reading/decode-capture';
import { GRADES, tallyOf } from '@/core/reading/grades';
import { nodeDigester } from '@/node/digester';
import { readWhole, writeOut } from './files';
import { JobError, UsageError } from './usage';

export async function decodeCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args, allowPositionals: true,
    options: { json: { type: 'string' }, image: { type: 'string' }, card: { type: 'string' }, 'keep-doubtful': { type: 'boolean' } },
  });
  const [path, ...more] = positionals;
  if (!path || more.length > 0) throw new UsageError('decode takes one capture');
  const keepDoubtful = values['keep-doubtful'] ?? false;
  const container = readContainer(await readWhole(path), nodeDigester);
  if (container.problems.some(({ kind }) => kind === 'not-a-capture')) throw new JobError(`${path} is no flux capture: neither a header nor a reading was found in it.`);
  const decoded = decodeCapture(container.header, container.tracks, SHIPPED_LAYOUTS);
  const sectors = allSectors(decoded);
  const { layout } = decoded;
  const image = layout ? buildFlatImage(layout, sectors, { keepDoubtful }) : null;
  if (!image && (values.image || values.card)) throw new JobError('No layout fits this capture, so there is no flat image and no card. --json gives the sectors that were found.');

  if (values.json) {
    const json = {
      layout: layout?.id ?? null,
      container: { complete: container.complete, problems: container.problems },
      sectors: sectors.map((sector) => {
        const { cylinder, head, c, h, r, n, size, deleted, grade, sha256 } = cardSector(sector, nodeDigester);
        return { cylinder, head, c, h, r, n, size, deleted, grade, sha256 };
      }),
      flatSha256: image ? toHex(nodeDigester.sha256(image.bytes)) : null,
      flatBytes: image?.bytes.length ?? null,
    };
    await writeOut(values.json, `${JSON.stringify(json, null, 1)}\n`);
  }
  if (image && values.image) await writeOut(values.image, image.bytes);
  if (image && layout && values.card) {
    const card = buildCard(layout, image, sectors, container.problems, nodeDigester, { keepDoubtful });
    await writeOut(values.card, `${JSON.stringify(card, null, 1)}\n`);
  }

  const tally = tallyOf(sectors.map(({ grade }) => grade));
  const lines = [
    layout ? `${layout.id}: ${describeLayout(layout)}` : 'No layout fits.',
    GRADES.map((grade) => `${tally[grade]} ${grade}`).join(', '),
    ...container.problems.map(({ message }) => message),
  ];
  process.stderr.write(`${lines.join('\n')}\n`);
}
