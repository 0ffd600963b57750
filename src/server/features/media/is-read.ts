/** Whether something was read of a medium: there is a copy of it. */
import { sql } from 'drizzle-orm';

/** Named in full: of a single table the mapper leaves the table's name away. */
export const isRead = sql<boolean>`exists (select 1 from fair_copies f where f.medium_id = media.id)`;
