// Which supervisor runs the application of a data folder, and which processes are its own: one at a
// time, and what a supervisor left behind that was killed is ended by the next.
import { createHash } from 'node:crypto';
import {
  existsSync,
  readFileSync,
  readlinkSync,
  realpathSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { createServer } from 'node:net';
import { dirname, join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { ROOT, say } from './prepare.mjs';
import { isAlive } from './processes.mjs';

const END_MS = 4000;
/** Whoever has taken the folder just now says within this time who it is. */
const TOLD_MS = 2000;

/** Whether a process is one that this checkout started; another may have its number by now. */
function isOurs(pid) {
  try {
    return readlinkSync(`/proc/${pid}/cwd`) === ROOT;
  } catch {
    return false;
  }
}

/** Whether a process is a supervisor, and not one that has its number by chance. */
function isSupervisor(pid) {
  try {
    return isAlive(pid) && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('start.mjs');
  } catch {
    return false;
  }
}

/**
 * Holds a name for as long as this process lives, however it ends; null where another holds it. The
 * kernel's own names of sockets (unix(7), abstract) are the only ones that go with their holder.
 */
function hold(name) {
  return new Promise((resolve, reject) => {
    const server = createServer((socket) => socket.destroy());
    server.once('error', (error) => (error.code === 'EADDRINUSE' ? resolve(null) : reject(error)));
    server.listen(`\0${name}`, () => resolve(server.unref()));
  });
}

async function end(pid) {
  const send = (signal) => {
    try {
      process.kill(pid, signal);
    } catch {
      // It is gone.
    }
  };
  send('SIGTERM');
  for (let waited = 0; isAlive(pid) && waited < END_MS; waited += 50) await sleep(50);
  if (isAlive(pid)) send('SIGKILL');
}

export class RunFile {
  #file;
  #held = null;
  #state = { pid: process.pid, url: null, children: [] };

  constructor(folder) {
    this.#file = join(folder, 'running.json');
  }

  /** What the file says; null where there is none. */
  #said() {
    try {
      return JSON.parse(readFileSync(this.#file, 'utf8'));
    } catch {
      return null;
    }
  }

  /** Whoever looks sees all of it, or what was there before. */
  #write() {
    const beside = `${this.#file}.${process.pid}`;
    writeFileSync(beside, JSON.stringify(this.#state));
    renameSync(beside, this.#file);
  }

  /** What the supervisor says that has the folder, once it says it. */
  async #other() {
    for (let waited = 0; waited < TOLD_MS; waited += 50) {
      const said = this.#said();
      if (said && isSupervisor(said.pid)) return said;
      await sleep(50);
    }
    return { url: null, pid: null };
  }

  /**
   * Takes the folder for this process: gives null, or the state of the supervisor that has it. What
   * one that is gone left running is ended.
   */
  async take() {
    const folder = realpathSync(dirname(this.#file));
    const name = createHash('sha256').update(folder).digest('hex').slice(0, 32);
    this.#held = await hold(`frail-spindle-${name}`);
    if (!this.#held) return this.#other();
    const before = this.#said();
    // One of a version that held no name.
    if (before && isSupervisor(before.pid)) return before;
    const left = before?.children ?? [];
    const orphans = left.filter((pid) => isAlive(pid) && isOurs(pid));
    // Whoever comes after this process, should it be killed now, ends them.
    this.#state.children = orphans;
    this.#write();
    if (orphans.length > 0)
      say(`Ending what an earlier start left running (${orphans.join(', ')}) …`);
    await Promise.all(orphans.map(end));
    return null;
  }

  /** Keeps what is known of the run, for the next start. */
  update(values) {
    Object.assign(this.#state, values);
    if (existsSync(this.#file)) this.#write();
  }

  release() {
    if (this.#said()?.pid === process.pid) rmSync(this.#file, { force: true });
    this.#held?.close();
  }
}
