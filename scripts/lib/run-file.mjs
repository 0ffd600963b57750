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

const END_MS = 4000;

function isAlive(pid) {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
}

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

  /** What the file says; null where there is none, or nothing that can be read. */
  #read() {
    try {
      return JSON.parse(readFileSync(this.#file, 'utf8'));
    } catch {
      return null;
    }
  }

  /**
   * Takes the folder for this process: gives null, or the state of the supervisor that has it. What
   * one that is gone left running is ended first.
   */
  async take() {
    for (;;) {
      try {
        linkSync(this.#written(), this.#file);
        return null;
      } catch (error) {
        if (error.code !== 'EEXIST') throw error;
      } finally {
        rmSync(this.#beside, { force: true });
      }
      const other = this.#read();
      if (other && other.pid !== process.pid && isSupervisor(other.pid)) return other;
      const left = (other?.children ?? []).filter((pid) => isAlive(pid) && isOurs(pid));
      if (left.length > 0) say(`Ending what an earlier start left running (${left.join(', ')}) …`);
      await Promise.all(left.map(end));
      rmSync(this.#file, { force: true });
    }
  }

  /** Keeps what is known of the run, for the next start. */
  update(values) {
    Object.assign(this.#state, values);
    if (existsSync(this.#file)) renameSync(this.#written(), this.#file);
  }

  release() {
    if (this.#read()?.pid === process.pid) rmSync(this.#file, { force: true });
  }
}
