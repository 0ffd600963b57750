/** `spindle decode`: captures to sectors, flat image and sidecar. */
import { tell, toldProblem } from '@/messages/tell';
import { parseArgs } from 'node:util';
import { toHex } from '@/core/digester';
import { buildSidecar, sidecarSector } from '@/core/image/sidecar';
import { statusBytes } from '@/core/image/convert';
import { IMAGE_KINDS, kindsOf, writeKind, type ImageKind } from '@/core/image/kinds';
import { describeLayout } from '@/core/layout/layout';
import { layoutJson } from '@/core/layout/layout-json';
import { GRADES, tallyOf } from '@/core/reading/grades';
import { describeFound } from '@/core/reading/decode/track-formats';
import { nodeDigester } from '@/node/digester';
import { decodeFiles, layoutFrom, passRange, type DecodedCaptures } from '../captures';
import { writeOut } from '../files';
import { JobError, UsageError } from '../usage';

export function imageKind(text: string): ImageKind {
  const kind = IMAGE_KINDS.find((each) => each === text);
  if (!kind)
    throw new UsageError(`there is no image kind ${text}; there are ${IMAGE_KINDS.join(', ')}`);
  return kind;
}

function toJson({ containers, decoded, sectors, image }: DecodedCaptures) {
  const { layout, stepping, matches, proposal, strange, tracks } = decoded;
  return {
    layout: layout?.id ?? null,
    container: {
      complete: containers.every(({ summary }) => summary.complete),
      problems: containers.flatMap(({ summary }) => summary.problems).map(toldProblem),
    },
    sectors: sectors.map((sector) => {
      const {
        cylinder,
        head,
        c,
        h,
        r,
        n,
        size,
        deleted,
        grade,
        sha256,
        mending,
        remarks,
        idExtra,
      } = sidecarSector(sector, nodeDigester, tell);
      return {
        cylinder,
        head,
        c,
        h,
        r,
        n,
        size,
        deleted,
        grade,
        sha256,
        ...(mending && { mending }),
        ...(remarks && { remarks }),
        ...(idExtra && { idExtra }),
      };
    }),
    flatSha256: image ? toHex(nodeDigester.sha256(image.bytes)) : null,
    flatBytes: image?.bytes.length ?? null,
    stepping,
    strange: strange.map((each) => ({ ...each, what: tell(each.what) })),
    tracks: tracks.map(({ cylinder, head, formats, readings }) => ({
      cylinder,
      head,
      readings,
      formats: formats.map((format) => tell(describeFound(format))),
    })),
    matches: matches.slice(0, 5).map((match) => ({
      layout: match.layout.id,
      confidence: Math.round(match.confidence * 1000) / 1000,
      evidence: tell(match.evidence),
    })),
    ...(proposal && { proposal: layoutJson(proposal) }),
  };
}

export async function decodeCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      json: { type: 'string' },
      image: { type: 'string' },
      sidecar: { type: 'string' },
      // What --sidecar was called before.
      card: { type: 'string' },
      'keep-doubtful': { type: 'boolean' },
      layout: { type: 'string' },
      passes: { type: 'string' },
      to: { type: 'string' },
      status: { type: 'boolean' },
      propose: { type: 'string' },
    },
  });
  if (positionals.length === 0)
    throw new UsageError('decode takes one capture, or several of one disk');
  const sidecarPath = values.sidecar ?? values.card;
  const keepDoubtful = values['keep-doubtful'] ?? false;
  const kind = values.to === undefined ? null : imageKind(values.to);
  const result = await decodeFiles(positionals, {
    layout: values.layout ? await layoutFrom(values.layout) : null,
    passes: values.passes ? passRange(values.passes) : undefined,
    keepDoubtful,
  });
  const { containers, decoded, sectors, image } = result;
  const { layout, proposal, stepping, strange } = decoded;
  const problems = containers.flatMap(({ summary }) => summary.problems);
  if (!image && (values.image || sidecarPath)) {
    throw new JobError(
      'No layout fits this capture, so there is no flat image and no sidecar. --json ' +
        'gives the sectors that were ' +
        `found${proposal ? '; --propose FILE writes a layout worked out from them, which --layout FILE takes' : ''}.`,
    );
  }
  if (kind && layout && !kindsOf(layout).includes(kind))
    throw new JobError(
      `${layout.id} can't be written as ${kind}; it can be ${kindsOf(layout).join(', ')}.`,
    );

  if (values.json) await writeOut(values.json, `${JSON.stringify(toJson(result), null, 1)}\n`);
  if (image && layout && values.image) {
    const usual = kindsOf(layout)[0]!;
    await writeOut(
      values.image,
      writeKind(
        { layout, bytes: image.bytes, status: values.status ? statusBytes(image) : null },
        kind ?? usual,
        values.status ?? false,
      ),
    );
  }
  if (image && layout && sidecarPath)
    await writeOut(
      sidecarPath,
      `${JSON.stringify(buildSidecar(layout, image, sectors, problems, nodeDigester, tell, { keepDoubtful, stepping, strange }), null, 1)}` +
        `\n`,
    );
  if (values.propose) {
    if (!proposal)
      throw new JobError(
        layout
          ? `${layout.id} fits; there is nothing to propose.`
          : 'Nothing was found that a layout could be worked out from.',
      );
    await writeOut(values.propose, `${JSON.stringify(layoutJson(proposal), null, 1)}\n`);
  }

  const tally = tallyOf(sectors.map(({ grade }) => grade));
  const lines = [
    layout
      ? `${layout.id}: ${tell(describeLayout(layout))}${stepping === 2 ? ', two steps a cylinder' : ''}`
      : `No layout fits.${proposal ? ` What is there: ${tell(describeLayout(proposal))}` : ''}`,
    GRADES.map((grade) => `${tally[grade]} ${grade}`).join(', '),
    ...strange
      .slice(0, 10)
      .map(({ cylinder, head, what }) => `Cylinder ${cylinder}, head ${head} ${tell(what)}.`),
    ...(strange.length > 10
      ? [`${strange.length - 10} further tracks are strange; --json lists them.`]
      : []),
    ...problems.map(({ said }) => tell(said)),
  ];
  process.stderr.write(`${lines.join('\n')}\n`);
}
