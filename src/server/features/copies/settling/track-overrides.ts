/**
 * Recovery settings that a person keeps for single tracks: every settling of the medium tries them.
 */
import { eq } from 'drizzle-orm';
import { z } from 'zod';
import { SETTING_LIMITS, type RecoverySetting } from '@/core/encoding';
import { trackName } from '@/core/reading/decode/decode-capture';
import type { Executor } from '@/server/platform/db/database';
import { trackOverrides } from '../tables';
import { said } from '@/core/said';
import { say } from '@/messages';

const within = (part: keyof RecoverySetting) =>
  z.number().min(SETTING_LIMITS[part][0]).max(SETTING_LIMITS[part][1]);

export const NewSetting = z.object({
  cylinder: z.int().min(0).max(255),
  head: z.int().min(0).max(1),
  setting: z.object({
    phaseGain: within('phaseGain'),
    rateGain: within('rateGain'),
    shiftGain: within('shiftGain'),
    drift: within('drift'),
    cell: within('cell'),
  }),
  reason: z.string().trim().min(1, say.forms.sayWhyThisSetting).max(500),
});

export async function settingsOf(
  db: Executor,
  mediumId: number,
): Promise<ReadonlyMap<string, RecoverySetting>> {
  const rows = await db.select().from(trackOverrides).where(eq(trackOverrides.mediumId, mediumId));
  return new Map(rows.map((row) => [trackName(row), row.setting]));
}

export function keptSettingsOf(db: Executor, mediumId: number) {
  return db
    .select({
      cylinder: trackOverrides.cylinder,
      head: trackOverrides.head,
      setting: trackOverrides.setting,
      reason: trackOverrides.reason,
    })
    .from(trackOverrides)
    .where(eq(trackOverrides.mediumId, mediumId));
}

const percent = (share: number) => `${Math.round(share * 1000) / 10} %`;

export const describeSetting = ({ phaseGain, rateGain, shiftGain, drift, cell }: RecoverySetting) =>
  said('copies.theClockTakesOf', {
    phaseGain: percent(phaseGain),
    rateGain: percent(rateGain),
    drift: percent(drift),
    cell: percent(cell),
    shiftGain,
    shiftGain2: percent(shiftGain),
  });
