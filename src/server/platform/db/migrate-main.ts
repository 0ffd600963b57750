/** Applies the migrations under `drizzle/`. */
import { config } from '../config';
import { applyMigrations } from './migrate';

await applyMigrations(config().SPINDLE_MIGRATIONS);
