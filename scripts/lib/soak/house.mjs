// The whole application as processes, for a soak: started as a person starts it, asked as a page
// asks it, and its parts found by what they are, so that they can be killed.
import { spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { ROOT } from '../prepare.mjs';
import { freePort, isAlive } from '../processes.mjs';
import { mountSmallDisk, unmountSmallDisk } from './small-disk.mjs';

const OPERATOR = 'spindle-operator=Ingrid%20Sollis';
/** A request that nothing answers is asked again: longer than any part takes to come back. */
const ANSWER_MS = 20_000;
const GIVEN_UP_MS = 240_000;
/** With the sample data put in, on a slow machine. */
const COMES_UP_MS = 900_000;

/** An answer that says no: asking again would not help. */
export class Refused extends Error {
  constructor(path, status, text) {
    super(`${path}: ${status} ${text.slice(0, 300)}`);
    this.status = status;
  }
}

export class House {
  #supervisor = null;
  #isEnding = false;
  #log = '';

  static async begin({ speed }) {
    const house = new House();
    house.folder = mkdtempSync(join(tmpdir(), 'spindle-soak-'));
    house.hasSmallDisk = mountSmallDisk(house.folder);
    // So that the database's own user comes in.
    chmodSync(house.folder, 0o755);
    const [web, bench] = [await freePort(), await freePort()];
    const [database, folders] = [await freePort(), await freePort()];
    house.url = `http://127.0.0.1:${web}`;
    house.env = {
      SPINDLE_DATA: house.folder,
      SPINDLE_PORT: String(web),
      SPINDLE_BENCH_PORT: String(bench),
      SPINDLE_DB_PORT: String(database),
      SPINDLE_FOLDERS_PORT: String(folders),
      SPINDLE_BENCH_SPEED: String(speed),
      SPINDLE_LOG: 'warn',
    };
    house.#start();
    try {
      await house.ready();
    } catch (error) {
      await house.end();
      throw error;
    }
    return house;
  }

  /** A supervisor that was killed is started again, as the system's own would do it. */
  #start() {
    const child = spawn(process.execPath, [join(ROOT, 'scripts', 'start.mjs')], {
      cwd: ROOT,
      env: { ...process.env, ...this.env },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    this.#supervisor = child;
    const keep = (data) => (this.#log = (this.#log + data).slice(-20_000));
    child.stdout.on('data', keep);
    child.stderr.on('data', keep);
    child.on('exit', () => {
      if (!this.#isEnding && this.#supervisor === child)
        setTimeout(() => this.#isEnding || this.#start(), 500);
    });
  }

  async ready() {
    const until = Date.now() + COMES_UP_MS;
    while (Date.now() < until) {
      if (this.#run()?.url && (await this.answers())) return;
      await sleep(200);
    }
    throw new Error(`the application did not come up:\n${this.lastWords()}`);
  }

  lastWords = () => this.#log.slice(-4000);

  answers() {
    return fetch(`${this.url}/api/stations`, { signal: AbortSignal.timeout(5000) }).then(
      ({ ok }) => ok,
      () => false,
    );
  }

  #run() {
    try {
      return JSON.parse(readFileSync(join(this.folder, 'running.json'), 'utf8'));
    } catch {
      return null;
    }
  }

  /** Asks until there is an answer; one of 4xx is a refusal, what else fails is asked again. */
  async ask(path, { method = 'GET', body, as = 'json' } = {}) {
    const isJson = body !== undefined && !(body instanceof Uint8Array);
    const until = Date.now() + GIVEN_UP_MS;
    let last = '';
    while (Date.now() < until) {
      try {
        const response = await fetch(this.url + path, {
          method,
          headers: { cookie: OPERATOR, ...(isJson && { 'content-type': 'application/json' }) },
          body: isJson ? JSON.stringify(body) : body,
          signal: AbortSignal.timeout(ANSWER_MS),
        });
        if (response.ok)
          return as === 'json' ? await response.json() : Buffer.from(await response.arrayBuffer());
        const text = await response.text();
        if (response.status < 500) throw new Refused(path, response.status, text);
        last = `${response.status} ${text}`;
      } catch (error) {
        if (error instanceof Refused) throw error;
        last = String(error.cause ?? error);
      }
      await sleep(300);
    }
    throw new Error(`${method} ${path} was not answered for ${GIVEN_UP_MS / 1000} s: ${last}`);
  }

  /** Processes of the parts there are, by name. */
  parts() {
    const children = (this.#run()?.children ?? []).filter(isAlive);
    const named = (what) => children.filter((pid) => commandOf(pid).includes(what));
    const database = databaseIn(this.folder);
    return {
      worker: named('worker.js'),
      pages: children.filter((pid) => commandOf(pid).includes('next')),
      bench: named('standin.js'),
      database: database ? [database] : [],
      connection: database ? childrenOf(database).filter(isOfApplication) : [],
      supervisor: this.#supervisor && isAlive(this.#supervisor.pid) ? [this.#supervisor.pid] : [],
    };
  }

  async end() {
    this.#isEnding = true;
    this.#supervisor.kill('SIGTERM');
    for (let i = 0; i < 150 && isAlive(this.#supervisor.pid); i++) await sleep(100);
    if (this.hasSmallDisk) unmountSmallDisk(this.folder);
    rmSync(this.folder, { recursive: true, force: true });
  }
}

function commandOf(pid) {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ');
  } catch {
    return '';
  }
}

function databaseIn(folder) {
  try {
    const file = join(folder, 'postgres', 'postmaster.pid');
    const pid = Number(readFileSync(file, 'utf8').split('\n')[0]);
    return isAlive(pid) ? pid : null;
  } catch {
    return null;
  }
}

function childrenOf(parent) {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .filter((pid) => {
      try {
        return (
          / (\d+)/.exec(readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1])?.[1] ===
          String(parent)
        );
      } catch {
        return false;
      }
    })
    .map(Number);
}

const isOfApplication = (pid) => /postgres: spindle_app /.test(commandOf(pid));
