// Which supervisor runs the application of a data folder, and which processes are its own: one at a
// time, and what a supervisor left behind that was killed is ended by the next.
import {
  existsSync,
  linkSync,
  readFileSync,
  readlinkSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { ROOT, say } from './prepare.mjs';
import { isAlive } from './processes.mjs';

const END_MS = 4000;

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
  if (!isAlive(pid)) return false;
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('start.mjs');
  } catch {
    return true;
  }
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
  #beside;
  #state = { pid: process.pid, url: null, children: [] };

  constructor(file) {
    this.#file = file;
    this.#beside = `${file}.${process.pid}`;
  }

  /** The state in a file beside it: whoever looks sees all of it, or what was there before. */
  #written() {
    writeFileSync(this.#beside, JSON.stringify(this.#state));
    return this.#beside;
  }

  /** What a file of this kind says; null where there is none. */
  #stateIn(file) {
    try {
      return JSON.parse(readFileSync(file, 'utf8'));
    } catch {
      return null;
    }
  }

  /** Makes the file of another; false where there is one. */
  #link(other) {
    try {
      linkSync(other, this.#file);
      return true;
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
      return false;
    }
  }

  /** Makes the file with this process in it; false where there is one. */
  #make() {
    try {
      return this.#link(this.#written());
    } finally {
      rmSync(this.#beside, { force: true });
    }
  }

  /** Takes the file of a supervisor that is gone out of the way; another start may have done so. */
  #takeAway() {
    const aside = `${this.#beside}.old`;
    try {
      renameSync(this.#file, aside);
    } catch (error) {
      if (error.code !== 'ENOENT') throw error;
      return [];
    }
    const { pid, children = [] } = this.#stateIn(aside) ?? {};
    const isTheirs = pid !== undefined && isSupervisor(pid);
    // Between the look and the move it became that of a start that lives: it gets it back.
    if (isTheirs) this.#link(aside);
    rmSync(aside);
    return isTheirs ? [] : children;
  }

  /**
   * Takes the folder for this process: gives null, or the state of the supervisor that has it. What
   * one that is gone left running is ended.
   */
  async take() {
    const left = [];
    while (!this.#make()) {
      const other = this.#stateIn(this.#file);
      if (other && isSupervisor(other.pid)) return other;
      left.push(...this.#takeAway());
    }
    const orphans = left.filter((pid) => isAlive(pid) && isOurs(pid));
    // Whoever comes after this process, should it be killed now, ends them.
    this.update({ children: orphans });
    if (orphans.length > 0)
      say(`Ending what an earlier start left running (${orphans.join(', ')}) …`);
    await Promise.all(orphans.map(end));
    return null;
  }

  /** Keeps what is known of the run, for the next start. */
  update(values) {
    Object.assign(this.#state, values);
    if (existsSync(this.#file)) renameSync(this.#written(), this.#file);
  }

  release() {
    if (this.#stateIn(this.#file)?.pid === process.pid) rmSync(this.#file, { force: true });
  }
}
