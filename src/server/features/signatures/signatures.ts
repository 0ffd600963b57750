/**
 * Signature rules that archivists keep, and what they found in images: a finding warns wherever the
 * image is handed out.
 */
import { asc, eq } from 'drizzle-orm';
import type { ByteSource } from '@/core/bits/byte-source';
import { scanImage } from '@/core/scan/scan-image';
import { SignatureRules, type SignatureRule } from '@/core/scan/rules';
import type { Database, Executor } from '@/server/platform/db/database';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { findings, signatureRules } from './tables';
import { UserError, notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { enqueue } from '@/server/platform/jobs/enqueue';
import { note } from '../ledger/ledger';
import { said, type Said } from '@/core/said';

/** What the route takes. */
export const NewRules = SignatureRules;

export async function allRules(db: Executor): Promise<SignatureRule[]> {
  return (
    await db
      .select({ rule: signatureRules.rule })
      .from(signatureRules)
      .orderBy(asc(signatureRules.id))
  ).map(({ rule }) => rule);
}

const placeOf = ({ rule, path, offset }: { rule: string; path: string | null; offset: number }) =>
  `${rule}/${offset}/${path ?? ''}`;

interface Scanned {
  operatorId: number;
  mediumId: number;
}

/** What an image was held against, and what was found. */
export interface Scan {
  rules: readonly SignatureRule[];
  findings: Awaited<ReturnType<typeof scanImage>>['findings'];
}

/** Holds an image against the rules; nothing is kept yet. */
export async function scanSource(
  db: Executor,
  image: ByteSource,
  rules?: readonly SignatureRule[],
): Promise<Scan> {
  const own = rules ?? (await allRules(db));
  return { rules: own, findings: own.length > 0 ? (await scanImage(image, own)).findings : [] };
}

const FINDINGS_AT_ONCE = 500;

/** Keeps what a scan of a copy found, in place of what was found before. */
export async function keepFindings(
  tx: Executor,
  fairCopyId: number,
  { rules, findings: everything }: Scan,
  { operatorId, mediumId }: Scanned,
): Promise<void> {
  const rulesNow = await allRules(tx);
  // A rule that was removed while the image was scanned found nothing.
  const found = everything.filter((each) => rulesNow.some(({ id }) => id === each.rule));
  const before = new Set(
    (await tx.delete(findings).where(eq(findings.fairCopyId, fairCopyId)).returning()).map(placeOf),
  );
  for (let at = 0; at < found.length; at += FINDINGS_AT_ONCE)
    await tx.insert(findings).values(
      found.slice(at, at + FINDINGS_AT_ONCE).map(({ rule, name, note: about, path, offset }) => ({
        fairCopyId,
        rule,
        name,
        note: about,
        path: path && sanitizeText(path),
        offset,
      })),
    );
  // What was found before is in the ledger already.
  if (found.some((each) => !before.has(placeOf(each))))
    await note(tx, { operatorId, kind: 'scanned', mediumId, what: findingsSaid(found) });
  // Rules that came while the image was scanned are held against it once more.
  if (!isSameRules(rules, rulesNow)) await enqueue(tx, 'scan', { operatorId });
}

const isSameRules = (a: readonly SignatureRule[], b: readonly SignatureRule[]) =>
  JSON.stringify(a) === JSON.stringify(b);

function findingsSaid(found: Scan['findings']): Said {
  const names = [...new Set(found.map(({ name }) => name))].slice(0, 5);
  return said('signatures.foundItIsIn', { found: found.length, names });
}

/**
 * Adds rules, or changes those of the same id; a worker holds the newest copy of every medium
 * against all of them.
 */
export async function addRules(
  db: Database,
  operatorId: number,
  rules: readonly SignatureRule[],
): Promise<{ rules: number }> {
  await db.transaction(async (tx) => {
    for (const rule of rules)
      await tx
        .insert(signatureRules)
        .values({ id: rule.id, rule, addedBy: operatorId })
        .onConflictDoUpdate({
          target: signatureRules.id,
          set: { rule, addedBy: operatorId, addedAt: new Date() },
        });
    await note(tx, {
      operatorId,
      kind: 'rule-added',
      what: said('signatures.signatureRulesTakenIn', {
        rules: rules.length,
        ids: rules.slice(0, 5).map(({ id }) => id),
      }),
    });
    await enqueue(tx, 'scan', { operatorId });
  });
  return { rules: rules.length };
}

export async function removeRule(db: Database, operatorId: number, id: string): Promise<void> {
  await db.transaction(async (tx) => {
    const gone = await tx
      .delete(signatureRules)
      .where(eq(signatureRules.id, id))
      .returning({ id: signatureRules.id });
    if (gone.length === 0) throw notFound(said('signatures.rule', { id }));
    await tx.delete(findings).where(eq(findings.rule, id));
    await note(tx, {
      operatorId,
      kind: 'rule-removed',
      what: said('signatures.theSignatureRuleWas', { id }),
    });
    await announce(tx, { kind: 'media' });
  });
}

export function findingsOf(db: Executor, fairCopyId: number) {
  return db
    .select({
      rule: findings.rule,
      name: findings.name,
      note: findings.note,
      path: findings.path,
      offset: findings.offset,
    })
    .from(findings)
    .where(eq(findings.fairCopyId, fairCopyId))
    .orderBy(asc(findings.id))
    .limit(200);
}

/** Refuses to hand out what signatures were found in, unless the person knows it. */
export async function refuseQuarantined(
  db: Executor,
  fairCopyId: number,
  acknowledgesQuarantine: boolean,
): Promise<void> {
  if (acknowledgesQuarantine) return;
  const [found] = await db
    .select({ name: findings.name })
    .from(findings)
    .where(eq(findings.fairCopyId, fairCopyId))
    .limit(1);
  if (found)
    throw new UserError(said('signatures.thisImageIsIn', { name: found.name }), 409, null, {
      code: 'in-quarantine',
    });
}
