/** Which media are in use: those that nobody withdrew. */
import { isNull } from 'drizzle-orm';
import { said } from '@/core/said';
import { UserError } from '@/server/platform/errors';
import { media } from './tables';

export const isInUse = isNull(media.withdrawnAt);

/** Throws UserError of one that was withdrawn. */
export function refuseWithdrawn(medium: typeof media.$inferSelect): void {
  if (medium.withdrawnAt === null) return;
  const { code, withdrawnReason: reason } = medium;
  throw new UserError(said('media.isWithdrawn', { code, reason }), 409);
}
