/** `spindle decode`: captures to sectors, flat image and sidecar. */
import { said } from '@/core/said';
import { tell, toldProblem } from '@/messages/tell';
import { parseArgs } from 'node:util';
import { toHex } from '@/core/digester';
import { buildSidecar, sidecarSector } from '@/core/image/sidecar';
import { statusBytes } from '@/core/image/convert';
import { IMAGE_KINDS, kindsOf, writeKind, type ImageKind } from '@/core/image/kinds';
import { describeLayout, type Layout } from '@/core/layout/layout';
import { layoutJson } from '@/core/layout/layout-json';
import { GRADES, tallyOf } from '@/core/reading/grades';
import type { TrackSector } from '@/core/reading/track-sector';
import { describeFound } from '@/core/reading/decode/track-formats';
import { nodeDigester } from '@/node/digester';
import { decodeFiles, layoutFrom, passRange, type DecodedCaptures } from '../captures';
import { jsonText, writeOut } from '../files';
import { JobError, UsageError } from '../usage';

/** Strange tracks named on the command line. */
const LISTED = 10;

export function imageKind(text: string): ImageKind {
  const kind = IMAGE_KINDS.find((each) => each === text);
  if (!kind)
    throw new UsageError(said('ofImages.thereIsNoKind', { kind: text, kinds: IMAGE_KINDS }));
  return kind;
}

/** What of a sector is told, where there is something to tell of the last three. */
const ALWAYS_TOLD = [
  ...(['cylinder', 'head', 'c', 'h', 'r', 'n'] as const),
  ...(['size', 'deleted', 'grade', 'sha256'] as const),
];
const TOLD_IF_ANY = ['mending', 'remarks', 'idExtra'] as const;

function sectorToJson(sector: TrackSector) {
  const told = sidecarSector(sector, nodeDigester, tell);
  const keys = [...ALWAYS_TOLD, ...TOLD_IF_ANY.filter((key) => told[key])];
  return Object.fromEntries(keys.map((key) => [key, told[key]]));
}

function toJson({ containers, decoded, sectors, image }: DecodedCaptures) {
  const { layout, stepping, matches, proposal, strange, tracks } = decoded;
  return {
    layout: layout?.id ?? null,
    container: {
      complete: containers.every(({ summary }) => summary.complete),
      problems: containers.flatMap(({ summary }) => summary.problems).map(toldProblem),
    },
    sectors: sectors.map(sectorToJson),
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
  if (positionals.length === 0) throw new UsageError(said('ofCaptures.decodeTakes'));
  const sidecarPath = values.sidecar ?? values.card;
  const keepDoubtful = values['keep-doubtful'] ?? false;
  const kind = values.to === undefined ? null : imageKind(values.to);
  const result = await decodeFiles(positionals, {
    layout: values.layout ? await layoutFrom(values.layout) : null,
    passes: values.passes ? passRange(values.passes) : undefined,
    keepDoubtful,
  });
  refuseImpossible(result, { wantsImage: Boolean(values.image || sidecarPath), kind });
  if (values.json) await writeOut(values.json, jsonText(toJson(result)));
  if (values.image)
    await writeImage(result, values.image, { kind, status: values.status ?? false });
  if (sidecarPath) await writeSidecar(result, sidecarPath, keepDoubtful);
  if (values.propose) await writeProposal(result, values.propose);
  process.stderr.write(`${linesOf(result).join('\n')}\n`);
}

async function writeImage(
  { decoded: { layout }, image }: DecodedCaptures,
  path: string,
  { kind, status }: { kind: ImageKind | null; status: boolean },
): Promise<void> {
  if (!image || !layout) return;
  const written = { layout, bytes: image.bytes, status: status ? statusBytes(image) : null };
  await writeOut(path, writeKind(written, kind ?? kindsOf(layout)[0]!, status));
}

async function writeSidecar(
  result: DecodedCaptures,
  path: string,
  keepDoubtful: boolean,
): Promise<void> {
  const { sectors, image, decoded } = result;
  const { layout, stepping, strange } = decoded;
  if (!image || !layout) return;
  const options = { keepDoubtful, stepping, strange };
  const problems = problemsOf(result);
  const sidecar = buildSidecar(layout, image, sectors, problems, nodeDigester, tell, options);
  await writeOut(path, jsonText(sidecar));
}

const problemsOf = ({ containers }: DecodedCaptures) =>
  containers.flatMap(({ summary }) => summary.problems);

/** What was asked for and can't be had is said before anything is written. */
function refuseImpossible(
  { containers, decoded: { layout, proposal }, image }: DecodedCaptures,
  { wantsImage, kind }: { wantsImage: boolean; kind: ImageKind | null },
): void {
  if (!image && wantsImage)
    throw new JobError(said('ofCaptures.noFlatImage', { isProposed: Boolean(proposal) }));
  if (!kind || !layout || kindsOf(layout).includes(kind)) return;
  const path = containers.map((each) => each.path).join(', ');
  throw new JobError(said('commands.isAtFault', { path, what: cantBeWrittenAs(layout, kind) }));
}

export const cantBeWrittenAs = (layout: Layout, kind: string) =>
  said('image.cantBeWrittenAs', {
    image: layout.id,
    kind,
    possible: kindsOf(layout).join(', '),
  });

async function writeProposal(
  { decoded: { layout, proposal } }: DecodedCaptures,
  path: string,
): Promise<void> {
  if (proposal) return writeOut(path, jsonText(layoutJson(proposal)));
  throw new JobError(
    layout
      ? said('ofCaptures.thereIsNothingToPropose', { layout: layout.id })
      : said('ofCaptures.nothingToProposeFrom'),
  );
}

const isWhatThereIs = (layout: Layout, stepping: number) =>
  said('ofCaptures.isWhatThereIs', {
    layout: layout.id,
    what: describeLayout(layout),
    isDouble: stepping === 2,
  });

const noLayoutFits = (proposal: Layout | null) =>
  proposal
    ? said('ofCaptures.noLayoutFitsBut', { what: describeLayout(proposal) })
    : said('ofCaptures.noLayoutFits');

function linesOf(result: DecodedCaptures): string[] {
  const { layout, proposal, stepping, strange } = result.decoded;
  const tally = tallyOf(result.sectors.map(({ grade }) => grade));
  return [
    tell(layout ? isWhatThereIs(layout, stepping) : noLayoutFits(proposal)),
    GRADES.map((grade) => `${tally[grade]} ${grade}`).join(', '),
    ...strange.slice(0, LISTED).map((track) => tell(said('ofCaptures.trackIsStrange', track))),
    ...(strange.length > LISTED
      ? [tell(said('ofCaptures.furtherTracksAreStrange', { count: strange.length - LISTED }))]
      : []),
    ...problemsOf(result).map(({ said }) => tell(said)),
  ];
}
