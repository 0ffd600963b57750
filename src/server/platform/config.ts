/** What the surroundings say, read once and checked: the only place that looks at them. */
import { z } from 'zod';

const Config = z.object({
  DATABASE_URL: z
    .string({ error: 'is not set: start the application with "npm start"' })
    .regex(/^postgres(ql)?:/, 'is no address of a PostgreSQL database'),
  /** Where the bench listens, `host:port`. */
  SPINDLE_BENCH: z
    .string()
    .regex(/^[^:]+:\d{1,5}$/, 'is no host:port')
    .default('127.0.0.1:4717'),
  /** Shown to a bench that wants one; without it, everybody on this computer could move its heads. */
  SPINDLE_BENCH_TOKEN: z.string().default(''),
  /** The server's own devices and files that may be read, as absolute paths between commas. */
  SPINDLE_DEVICES: z.string().default(''),
  /** Where the migrations lie. */
  SPINDLE_MIGRATIONS: z.string().default('drizzle'),
  /** Where the sample media of the simulated bench lie. */
  SPINDLE_SHELF: z.string().default('data/shelf'),
  /** How long what was made to be fetched is kept, and what nobody went on with, in days. */
  SPINDLE_KEEP_EXTRACTS_DAYS: z.coerce.number().int().min(1).default(30),
  SPINDLE_KEEP_UPLOADS_DAYS: z.coerce.number().int().min(1).default(30),
  SPINDLE_KEEP_JOBS_DAYS: z.coerce.number().int().min(1).default(90),
  /** A folder on the disk that holds the database; empty where it is on another computer. */
  SPINDLE_STORE: z.string().default(''),
  /** What is kept free of that disk, in MiB: below it nothing more is taken in or read. */
  SPINDLE_RESERVE_MIB: z.coerce.number().int().min(0).default(512),
  /** Everything kept is checked against its digests once in so many days. */
  SPINDLE_CHECK_DAYS: z.coerce.number().int().min(1).default(90),
  /** A folder on another disk, in which everything is kept a second time; empty where none is. */
  SPINDLE_SECOND_STORE: z.string().default(''),
  /** What is being worked at is written there once it has been let alone for so many seconds. */
  SPINDLE_SECOND_STORE_AFTER: z.coerce.number().int().min(0).default(15),
  /** Where media that are open as folders are read, on this computer. */
  SPINDLE_FOLDERS_PORT: z.coerce.number().int().min(0).max(65_535).default(4719),
  /** A language other than English: the file that `--require` loads before anything else. */
  SPINDLE_MESSAGES: z.string().default(''),
  /** `development` where pages are made anew as they change. */
  NODE_ENV: z.string().default('production'),
  SPINDLE_LOG: z
    .enum(['trace', 'debug', 'info', 'warn', 'error', 'fatal', 'silent'])
    .default('info'),
});
type Config = z.infer<typeof Config>;

let read: Config | null = null;

/** Fails with every setting that is wrong, named. */
export function config(): Config {
  if (read) return read;
  const parsed = Config.safeParse(process.env);
  if (!parsed.success)
    throw new Error(
      parsed.error.issues.map(({ path, message }) => `${path.join('.')} ${message}.`).join(' '),
    );
  return (read = parsed.data);
}

/** As a process that begins now would read it: for tests, which change what surrounds them. */
export function readConfigAnew(): void {
  read = null;
}

/** For the log: without the database's password and the bench's token. */
export function configWithoutSecrets(): Record<string, string | number> {
  const { DATABASE_URL, SPINDLE_BENCH_TOKEN, ...rest } = config();
  const address = new URL(DATABASE_URL);
  if (address.password) address.password = '…';
  return {
    ...rest,
    SPINDLE_BENCH_TOKEN: SPINDLE_BENCH_TOKEN && '…',
    DATABASE_URL: address.toString(),
  };
}
