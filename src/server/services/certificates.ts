/** Certificates of returns, as JSON and as PDF. */
import { eq } from 'drizzle-orm';
import { Certificate, trackFigures } from '@/core/assembly/certificate';
import { TARGET_PROFILES } from '@/core/assembly/targets';
import { FORM_NAMES } from '@/core/medium-form';
import { certificatePdf } from '../certificate-pdf';
import type { Executor } from '../db/database';
import { fairCopies, media, operators, returnTracks, returns, stations } from '../db/schema';
import { notFound } from '../errors';
import { sectorsInDoubt } from './return-check';
import { downloadBytes } from '../http/respond';
import type { Outcome, ReturnState, TargetFound } from '../states';

const OUTCOMES: Record<ReturnState, Certificate['outcome']> = {
  proved: 'proved',
  unproved: 'not proved',
  failed: 'failed',
  waiting: 'not ended',
  writing: 'not ended',
  held: 'not ended',
  asks: 'not ended',
};
const TRIALS: Record<Outcome, NonNullable<Certificate['trial']>['outcome']> = {
  works: 'works',
  'does-not': 'does not work',
  'not-tried': 'not to be tried',
};

function foundWords(found: TargetFound | null): string {
  if (!found) return 'not looked at';
  switch (found.state) {
    case 'blank':
      return 'nothing';
    case 'formatted':
      return `a format without files${found.label ? `, “${found.label}”` : ''}`;
    case 'held':
      return `what is kept as ${found.heldAs}`;
    case 'data':
      return (
        'data that was not kept, which a person let ' +
        `go${found.files.length > 0 ? ` (${found.files.slice(0, 3).join(', ')})` : ''}`
      );
  }
}

export async function certificateOf(db: Executor, id: number): Promise<Certificate> {
  const [row] = await db
    .select()
    .from(returns)
    .innerJoin(fairCopies, eq(fairCopies.id, returns.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .innerJoin(stations, eq(stations.id, returns.stationId))
    .innerJoin(operators, eq(operators.id, returns.startedBy))
    .where(eq(returns.id, id));
  if (!row) throw notFound(`return ${id}`);
  const { returns: own, fair_copies: copy, media: source, stations: station, operators: who } = row;
  const [target] = await db.select().from(media).where(eq(media.id, own.targetId));
  const tracks = await db
    .select()
    .from(returnTracks)
    .where(eq(returnTracks.returnId, id))
    .orderBy(returnTracks.cylinder, returnTracks.head);
  const [by] =
    own.outcomeBy === null
      ? []
      : await db.select().from(operators).where(eq(operators.id, own.outcomeBy));
  return Certificate.parse({
    format: 'frail-spindle-certificate',
    version: 1,
    return: id,
    source: {
      code: source.code,
      title: source.title,
      lender: source.lender,
      sha256: copy.imageSha256,
      bytes: copy.imageBytes,
      as: own.from,
      inDoubt: await sectorsInDoubt(db, copy),
    },
    target: {
      code: target!.code,
      title: target!.title,
      form: FORM_NAMES[target!.form],
      found: foundWords(own.found),
    },
    station: { number: station.id, model: station.model, serial: station.serial },
    layout: own.blocks ? null : copy.layout,
    machine: TARGET_PROFILES.find(({ id: profile }) => profile === own.machine)?.title ?? null,
    precompensated: own.precompensate && own.from === 'image' && !own.blocks,
    outcome: OUTCOMES[own.state],
    sentence: own.now,
    ...trackFigures(tracks),
    blocks: own.blocks && {
      blockBytes: own.blocks.blockBytes,
      written: own.blocks.written,
      proved: own.blocks.proved,
      failed: own.blocks.failed.map(({ from, to }) => ({ from, count: to - from })),
    },
    trial:
      own.outcome && by && own.outcomeAt
        ? {
            outcome: TRIALS[own.outcome],
            note: own.outcomeNote,
            by: by.name,
            at: own.outcomeAt.toISOString(),
          }
        : null,
    operator: who.name,
    startedAt: own.startedAt.toISOString(),
    endedAt: own.endedAt?.toISOString() ?? null,
  });
}

export async function certificateDownload(
  db: Executor,
  id: number,
  as: 'pdf' | 'json',
): Promise<Response> {
  const certificate = await certificateOf(db, id);
  const bytes =
    as === 'pdf'
      ? await certificatePdf(certificate)
      : new TextEncoder().encode(`${JSON.stringify(certificate, null, 1)}\n`);
  return downloadBytes(
    bytes,
    `return-${id}-${certificate.source.code}-to-${certificate.target.code}.${as}`,
    as === 'pdf' ? 'application/pdf' : 'application/json',
  );
}
