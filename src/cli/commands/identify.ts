/** `spindle identify`: what unknown files are, by their content and never by their names. */
import { said } from '@/core/said';
import { tell } from '@/messages/tell';
import { parseArgs } from 'node:util';
import { FORMAT_WITHIN, beginsAsContainer } from '@/core/flux/container';
import { candidatesOf } from '@/core/identify/identify';
import { signatureOf } from '@/core/identify/signatures';
import type { ByteSource } from '@/core/bits/byte-source';
import { userSource } from '@/core/optical/disc';
import { tracksOf } from '@/core/optical/disc-tracks';
import { isScrambled } from '@/core/optical/header-survey';
import { discWithoutSheet } from '@/core/optical/sheet-for-disc';
import { readIndex } from '@/core/packing/packed';
import { readPartitions } from '@/core/volume/partitioned/partitions';
import { fileSource, jsonText, writeOut } from '../files';
import { filesOf, shown } from '../paths';
import { UsageError } from '../usage';

interface Finding {
  filesystem: string;
  confidence: number;
  reasons: string[];
}

/** A raw image of a disc, and what its data hold. */
async function asDisc(source: ByteSource): Promise<Finding[]> {
  const disc = await discWithoutSheet(source, 'image');
  const [track] = disc ? tracksOf(disc.sheet, [disc.source.size]).tracks : [];
  if (!disc || !track) return [];
  const scrambled = await isScrambled(disc.source, track);
  const inside = await candidatesOf(userSource(disc.source, track, scrambled));
  const what = said('ofImages.isARawDisc', {
    sectors: track.sectors,
    mode: track.type === 'MODE2/2352' ? 2 : 1,
    isScrambled: scrambled,
  });
  return [
    {
      filesystem: 'raw-disc',
      confidence: 0.97,
      reasons: [
        tell(
          inside[0]
            ? said('ofImages.whoseDataAre', { what, filesystem: inside[0].filesystem })
            : what,
        ),
        ...disc.sheet.problems.map((problem) => tell(problem.said)),
      ],
    },
  ];
}

async function asPacked(source: ByteSource): Promise<Finding[]> {
  const index = await readIndex(source);
  return index
    ? [
        {
          filesystem: 'packed',
          confidence: 1,
          reasons: [
            tell(
              said('ofImages.isPacked', {
                bytes: index.totalBytes,
                sha256: index.sha256.slice(0, 12),
              }),
            ),
          ],
        },
      ]
    : [];
}

/** A mark alone: nothing behind it was read. */
const CONFIDENCE_OF_A_MARK = 0.6;

/** A kind that is not read here, by the mark its standard puts at a fixed place. */
async function asMarked(source: ByteSource): Promise<Finding[]> {
  const marked = await signatureOf(source);
  if (!marked) return [];
  const reasons = [tell(marked.said)];
  return [{ filesystem: marked.name, confidence: CONFIDENCE_OF_A_MARK, reasons }];
}

async function identifyFile(
  path: string,
): Promise<{ path: string; bytes: number; findings: Finding[] }> {
  const source = await fileSource(path);
  try {
    const findings: Finding[] = (await candidatesOf(source)).map(
      ({ filesystem, confidence, reasons }) => ({
        filesystem,
        confidence: Math.round(confidence * 100) / 100,
        reasons: reasons.map(tell),
      }),
    );
    if (beginsAsContainer(await source.read(0, FORMAT_WITHIN)))
      findings.push({
        filesystem: 'fsflux',
        confidence: 1,
        reasons: [tell(said('ofImages.isAFluxContainer'))],
      });
    findings.push(...(await asDisc(source)), ...(await asPacked(source)));
    const table = await readPartitions(source);
    if (table && table.partitions.length > 0)
      findings.push({
        filesystem: 'mbr',
        confidence: 0.79,
        reasons: [
          tell(said('ofImages.isATable', { partitions: table.partitions.map(partitionWords) })),
        ],
      });
    if (findings.length === 0) findings.push(...(await asMarked(source)));
    return {
      path,
      bytes: source.size,
      findings: findings.sort((a, b) => b.confidence - a.confidence),
    };
  } finally {
    await source.close();
  }
}

const partitionWords = ({ number, type }: { number: number; type: number }) =>
  said('ofImages.partitionOfType', {
    number,
    type: type.toString(16).toUpperCase().padStart(2, '0'),
  });

const percentOf = (confidence: number) => Math.round(confidence * 100);

const bestLine = (path: string, best: Finding | undefined) =>
  best
    ? said('ofImages.isFoundToBe', {
        path,
        filesystem: best.filesystem,
        percent: percentOf(best.confidence),
        reasons: best.reasons,
      })
    : said('ofImages.isNothingKnown', { path });

export async function identifyCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { json: { type: 'string' } },
  });
  if (positionals.length === 0)
    throw new UsageError(said('commands.takesFilesOrFolders', { command: 'identify' }));
  const found = [];
  for (const path of await filesOf(positionals)) found.push(await identifyFile(path));
  if (values.json) await writeOut(values.json, jsonText(found));
  if (values.json === '-') return;
  for (const {
    path,
    findings: [best, ...others],
  } of found) {
    process.stdout.write(`${tell(bestLine(shown(path), best))}\n`);
    for (const { filesystem, confidence } of others)
      process.stdout.write(
        `    ${tell(said('ofImages.orIs', { filesystem, percent: percentOf(confidence) }))}\n`,
      );
  }
}
