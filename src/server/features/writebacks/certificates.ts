/** Certificates of write-backs, as JSON and as PDF. */
import { say } from '@/messages';
import { FORM_NAMES, targetName } from '@/messages/names';
import { tell } from '@/messages/tell';
import { asc, desc, eq } from 'drizzle-orm';
import { fileNameOfCode } from '@/core/medium-code';
import { Certificate, trackFigures } from '@/core/assembly/certificate';
import { certificatePdf } from './certificate-pdf';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { operators } from '../operators/tables';
import { stations } from '../stations/tables';
import { certificates, writebackTracks, writebacks } from './tables';
import { nodeDigester } from '@/node/digester';
import { toHex } from '@/core/digester';
import { notFound, UserError } from '@/server/platform/errors';
import { sectorsInDoubt } from './writeback-check';
import { downloadBytes } from '@/server/platform/http/respond';
import type { Outcome, WritebackState, TargetFound } from '@/server/states';
import { said } from '@/core/said';

const OUTCOMES: Record<WritebackState, Certificate['outcome']> = {
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

const FILES_NAMED = 3;

function foundWords(found: TargetFound | null): string {
  switch (found?.state) {
    case undefined:
      return say.certificates.before.notLookedAt;
    case 'blank':
      return say.certificates.before.nothing;
    case 'formatted':
      return say.certificates.before.withoutFiles(found);
    case 'held':
      return say.certificates.before.keptAs(found);
    case 'data':
      return say.certificates.before.letGo({ files: found.files.slice(0, FILES_NAMED) });
  }
}

const FIRST_EDITION = 1;

/** What is true of it now. */
export async function buildCertificate(
  db: Executor,
  id: number,
  { withTrial }: CertificateOptions = { withTrial: true },
): Promise<Certificate> {
  const [row] = await db
    .select()
    .from(writebacks)
    .innerJoin(fairCopies, eq(fairCopies.id, writebacks.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .innerJoin(stations, eq(stations.id, writebacks.stationId))
    .innerJoin(operators, eq(operators.id, writebacks.startedBy))
    .where(eq(writebacks.id, id));
  if (!row) throw notFound(said('writebacks.writeBack', { id }));
  const {
    writebacks: own,
    fair_copies: copy,
    media: source,
    stations: station,
    operators: who,
  } = row;
  const [target] = await db.select().from(media).where(eq(media.id, own.targetId));
  const tracks = await db
    .select()
    .from(writebackTracks)
    .where(eq(writebackTracks.writebackId, id))
    .orderBy(writebackTracks.cylinder, writebackTracks.head);
  const [by] =
    own.outcomeBy === null
      ? []
      : await db.select().from(operators).where(eq(operators.id, own.outcomeBy));
  return Certificate.parse({
    format: 'frail-spindle-certificate',
    version: 2,
    writeback: id,
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
    machine: targetName(own.machine),
    precompensated: own.precompensate && own.from === 'image' && !own.blocks,
    outcome: OUTCOMES[own.state],
    sentence: tell(own.now),
    ...trackFigures(tracks),
    blocks: own.blocks && {
      blockBytes: own.blocks.blockBytes,
      written: own.blocks.written,
      proved: own.blocks.proved,
      failed: own.blocks.failed.map(({ from, to }) => ({ from, count: to - from })),
    },
    trial:
      withTrial && own.outcome && by && own.outcomeAt
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

/** Whether it says how the disk did in the old machine, which is told later than the proof. */
interface CertificateOptions {
  withTrial: boolean;
}

async function seal(
  db: Executor,
  id: number,
  edition: number,
  options: CertificateOptions & { notBefore?: Date },
): Promise<void> {
  const certificate = await buildCertificate(db, id, options);
  const json = new TextEncoder().encode(`${JSON.stringify(certificate, null, 1)}\n`);
  const pdf = await certificatePdf(certificate);
  await db
    .insert(certificates)
    .values({
      writebackId: id,
      edition,
      json,
      jsonSha256: toHex(nodeDigester.sha256(json)),
      pdf,
      pdfSha256: toHex(nodeDigester.sha256(pdf)),
      // Never before what it tells of, or it would be sealed again at each look: the clocks of two
      // machines may differ.
      sealedAt: new Date(Math.max(Date.now(), options.notBefore?.getTime() ?? 0)),
    })
    .onConflictDoNothing();
}

/**
 * Seals what is due and is not sealed yet: the proof once it ended, and what was told of the trial
 * since. Asked again, it changes nothing.
 */
export async function sealCertificate(db: Executor, id: number): Promise<void> {
  const [row] = await db.select().from(writebacks).where(eq(writebacks.id, id));
  if (!row) throw notFound(said('writebacks.writeBack', { id }));
  if (!row.endedAt) throw new UserError(said('writebacks.writeBackHasNot', { id }));
  const sealed = await db
    .select({ edition: certificates.edition, sealedAt: certificates.sealedAt })
    .from(certificates)
    .where(eq(certificates.writebackId, id))
    .orderBy(certificates.edition);
  if (sealed.length === 0) await seal(db, id, FIRST_EDITION, { withTrial: false });
  const last = sealed.at(-1);
  const lastOfTrial = last && last.edition > FIRST_EDITION ? last : null;
  if (row.outcomeAt && (!lastOfTrial || lastOfTrial.sealedAt < row.outcomeAt))
    await seal(db, id, (last?.edition ?? FIRST_EDITION) + 1, {
      withTrial: true,
      notBefore: row.outcomeAt,
    });
}

/** `latest` is the edition with what was told of the trial, where anything was. */
type CertificateEdition = 'first' | 'latest';

async function sealedEdition(db: Executor, id: number, edition: CertificateEdition) {
  await sealCertificate(db, id);
  const [row] = await db
    .select()
    .from(certificates)
    .where(eq(certificates.writebackId, id))
    .orderBy(edition === 'first' ? asc(certificates.edition) : desc(certificates.edition))
    .limit(1);
  return row!;
}

/** The bytes as they were sealed; what does not meet its own digest is not handed out. */
export async function certificateDownload(
  db: Executor,
  id: number,
  as: 'pdf' | 'json',
  edition: CertificateEdition = 'first',
): Promise<Response> {
  const row = await sealedEdition(db, id, edition);
  const [bytes, digest] = as === 'pdf' ? [row.pdf, row.pdfSha256] : [row.json, row.jsonSha256];
  if (toHex(nodeDigester.sha256(bytes)) !== digest)
    throw new UserError(said('writebacks.theCertificateOfWrite', { id }), 500);
  const { source, target } = Certificate.parse(JSON.parse(new TextDecoder().decode(row.json)));
  return downloadBytes(
    bytes,
    `writeback-${id}-${fileNameOfCode(source.code)}-to-${fileNameOfCode(target.code)}.${as}`,
    as === 'pdf' ? 'application/pdf' : 'application/json',
  );
}
