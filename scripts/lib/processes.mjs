// Processes that run side by side: started, watched, started again when they die, stopped together.
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { createConnection, createServer } from 'node:net';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { ROOT, SetupError } from './prepare.mjs';

const RESTART_MS = 400;
/** With the database, which ends after all others, less than ten seconds. */
const STOP_MS = 6000;

/** A program that says that it lives, and was silent for this long, is stuck. */
const SILENT_MS = 45_000;

/** Ends a program that no longer says that it lives; who started it starts it again. */
function endWhenSilent(started, name, log) {
  let heard = Date.now();
  started.on('message', () => (heard = Date.now()));
  const watch = setInterval(() => {
    if (Date.now() - heard < SILENT_MS) return;
    log.write(`[${name}] was silent for ${SILENT_MS / 1000} s: it is stuck\n`);
    started.kill('SIGKILL');
  }, 1000);
  watch.unref();
  started.on('exit', () => clearInterval(watch));
}

/**
 * Starts a program; `keep` starts it again whenever it ends by itself, `watched` also where it no
 * longer says that it lives.
 */
export function startProcess(
  name,
  args,
  { env = {}, keep = true, watched = false, log = process.stderr, onLaunch = () => undefined } = {},
) {
  let stopping = false;
  let child;
  let gone = Promise.resolve();
  const launch = () => {
    // A group of its own: Ctrl-C reaches us, and we decide the order.
    child = spawn(process.execPath, args, {
      cwd: ROOT,
      env: { ...process.env, ...env },
      stdio: ['ignore', 'pipe', 'pipe', ...(watched ? ['ipc'] : [])],
      detached: true,
    });
    if (watched) endWhenSilent(child, name, log);
    const show = (data) => {
      for (const line of String(data).split('\n'))
        if (line.trim()) log.write(`[${name}] ${line}\n`);
    };
    child.stdout.on('data', show);
    child.stderr.on('data', show);
    gone = new Promise((resolve) =>
      child.on('exit', (code, signal) => {
        resolve();
        if (stopping || !keep) return;
        log.write(`[${name}] ended (${signal ?? code}); starting it again\n`);
        setTimeout(() => {
          if (stopping) return;
          launch();
          onLaunch();
        }, RESTART_MS);
      }),
    );
  };
  launch();
  return {
    name,
    get pid() {
      return child.pid;
    },
    kill: (signal) => child.kill(signal),
    async stop() {
      stopping = true;
      child.kill('SIGTERM');
      await Promise.race([gone, sleep(STOP_MS, undefined, { ref: false })]);
      if (child.exitCode === null && child.signalCode === null) child.kill('SIGKILL');
      await gone;
    },
  };
}

/** What a process is told, so that it speaks another language than English. */
export function languageEnv(language) {
  if (!language || language === 'en') return {};
  const file = join(ROOT, 'build', 'languages', `${language}.cjs`);
  if (!existsSync(file))
    throw new SetupError(`There is no language ${language}: ${file} is missing.`);
  return {
    SPINDLE_MESSAGES: file,
    // In quotes: a folder's name may hold blanks.
    NODE_OPTIONS: `${process.env.NODE_OPTIONS ?? ''} --require="${file}"`.trim(),
  };
}

/** Whether a process is there, whoever it belongs to. */
export function isAlive(pid) {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
}

/** Whether anything listens on this port of loopback. */
function isTaken(port) {
  return new Promise((resolve) => {
    const socket = createConnection({ host: '127.0.0.1', port });
    socket.on('connect', () => {
      socket.destroy();
      resolve(true);
    });
    socket.on('error', () => resolve(false));
  });
}

/** Waits until something listens there; gives up without a word after so many seconds. */
export async function waitForPort(port, seconds) {
  for (let waited = 0; !(await isTaken(port)) && waited < seconds * 1000; waited += 100)
    await sleep(100);
}

export async function refuseIfTaken(port, what, variable) {
  if (await isTaken(port))
    throw new SetupError(
      `Port ${port} for ${what} is taken by another program. Set ${variable} to a free ` +
        'one, or stop that program.',
    );
}

/** A port that nobody uses now. */
export function freePort() {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.on('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });
}

/** Waits until the application answers at `url`. */
export async function waitForPages(url, seconds = 60) {
  const deadline = Date.now() + seconds * 1000;
  for (;;) {
    try {
      const response = await fetch(`${url}/api/operators`, { signal: AbortSignal.timeout(5000) });
      if (response.ok) return;
    } catch {
      // Not up yet.
    }
    if (Date.now() > deadline)
      throw new SetupError(
        `The pages did not answer at ${url} within ${seconds} s; the lines above say why.`,
      );
    await sleep(150);
  }
}
