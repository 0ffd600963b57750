/**
 * The worker: a process of its own that does what takes long. Any number of them share one
 * database.
 */
import { configWithoutSecrets } from './platform/config';
import { connectDatabase } from './platform/db/database';
import { JobEngine } from './platform/jobs/engine';
import { listenForJobs } from './platform/jobs/queue';
import { log } from './platform/log';
import { giveUpAssembly, runAssembly } from './features/assemblies/settle-assembly';
import { giveUpSettling, runSettling } from './features/copies/settling/settling-job';
import { giveUpExtract, runExtract } from './features/extracts/extract-job';
import { nameOfBlob } from './features/fixity/blob-names';
import { watchFixity } from './features/fixity/fixity-watch';
import { sweep } from './features/housekeeping/sweep';
import { nameBlobsBy } from './platform/blobs/blob-damage';
import { runAlike } from './features/holdings/keep-alike';
import { giveUpIntake, runIntake } from './features/intake/intake-job';
import { runScan } from './features/signatures/scan-job';
import { runIndexSounds } from './features/sounds/index-sounds';
import { giveUpSelfTest, runSelfTest } from './features/stations/self-test-job';
import { giveUpSitting, runSitting } from './features/sittings/sitting-job';
import { goOnWithRoom } from './features/sittings/go-on-with-room';
import { askForSecondStore, runSecondStore } from './features/second-store/second-store-job';
import { watchStacks } from './features/sittings/stacks';
import { giveUpTransfer, runTransfer } from './features/transfers/transfer-job';
import { giveUpWriteback, runWriteback } from './features/writebacks/writeback-job';

/** More than the jobs at once: each may want a second for a moment. */
const CONNECTIONS = 20;
/** What a worker asks of the database may go through all of it. */
const STATEMENT_SECONDS = 600;
const SWEEP_MS = 3_600_000;

/** Nobody waits for it, and the next of its kind does it all. */
const nothingHangsOnIt = async () => undefined;

const WATCH_MS = 500;
const ALIVE_MS = 3000;
const ROOM_MS = 5000;

nameBlobsBy(nameOfBlob);
const connection = connectDatabase(undefined, {
  max: CONNECTIONS,
  statementSeconds: STATEMENT_SECONDS,
});
const engine = new JobEngine(
  connection,
  {
    sitting: { run: runSitting, giveUp: giveUpSitting },
    writeback: { run: runWriteback, giveUp: giveUpWriteback },
    'self-test': { run: runSelfTest, giveUp: giveUpSelfTest },
    settle: { run: runSettling, giveUp: giveUpSettling },
    assembly: { run: runAssembly, giveUp: giveUpAssembly },
    scan: { run: runScan, giveUp: nothingHangsOnIt },
    extract: { run: runExtract, giveUp: giveUpExtract },
    intake: { run: runIntake, giveUp: giveUpIntake },
    alike: { run: runAlike, giveUp: nothingHangsOnIt },
    sounds: { run: runIndexSounds, giveUp: nothingHangsOnIt },
    transfer: { run: runTransfer, giveUp: giveUpTransfer },
    'second-store': { run: runSecondStore, giveUp: nothingHangsOnIt },
  },
  log(),
);
// Whoever started this process, and listens, hears that it is not stuck; whether the database
// answers is another matter.
setInterval(() => {
  if (process.connected) process.send?.('alive');
}, ALIVE_MS).unref();
log().info(configWithoutSecrets(), 'worker starts');
const stopListening = await listenForJobs(() => void engine.look());
engine.start();
log().info('worker ready');
let watching = Promise.resolve();
// A bench that is away, or a database that is being restarted, is tried again with the next look.
const watch = setInterval(() => {
  watching = watching.then(() => watchStacks(connection.db)).catch(() => undefined);
}, WATCH_MS);
const lookForRoom = setInterval(
  () => void goOnWithRoom(connection.db).catch(() => undefined),
  ROOM_MS,
);
const tidy = () =>
  askForSecondStore(connection.db)
    .then(() => sweep(connection.db))
    .then(
      (swept) => log().info(swept, 'swept'),
      (error: Error) => log().warn({ err: error }, 'sweeping'),
    );
void tidy();
const sweeping = setInterval(tidy, SWEEP_MS);
const ended = new AbortController();
const checking = watchFixity(connection.db, ended.signal);
for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.on(signal, async () => {
    clearInterval(watch);
    clearInterval(sweeping);
    clearInterval(lookForRoom);
    ended.abort();
    await watching;
    await checking;
    await engine.stop();
    await stopListening();
    await connection.close();
    process.exit(0);
  });
}
