// The database of a data folder for a command that ends again: the one that runs, or one started for
// it.
import { existsSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { ensurePostgres, installPackages, ROOT, SetupError } from './prepare.mjs';
import { addressOf, startPostgres } from './postgres.mjs';
import { RunFile } from './run-file.mjs';

const nothing = async () => undefined;

/**
 * @param {{ mustBeThere: boolean }} options whether a house must be there, or must not run
 * @returns {Promise<{ url: string, bin: string, stop(): Promise<void> }>} as its owner
 */
export async function databaseForTool({ mustBeThere }) {
  const dataFolder = process.env.SPINDLE_DATA ?? join(ROOT, 'data');
  const port = Number(process.env.SPINDLE_DB_PORT ?? 54717);
  if (mustBeThere && !existsSync(join(dataFolder, 'postgres-password')))
    throw new SetupError(`There is no database in ${dataFolder}: name it with SPINDLE_DATA.`);
  mkdirSync(dataFolder, { recursive: true });
  await installPackages();
  const bin = await ensurePostgres();
  const runFile = new RunFile(dataFolder);
  if (await runFile.take()) {
    if (mustBeThere) return { url: addressOf(dataFolder, port), bin, stop: nothing };
    throw new SetupError('Frail Spindle runs in that data folder: stop it, or name another.');
  }
  const database = await startPostgres({ dataFolder, port });
  const stop = async () => {
    await database.stop();
    runFile.release();
  };
  return { url: database.url, bin, stop };
}
