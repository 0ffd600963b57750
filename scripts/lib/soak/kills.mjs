// What befalls a house in a soak: parts killed, connections cut, processes stopped that go on later.
import { setTimeout as sleep } from 'node:timers/promises';
import { fillFor } from './small-disk.mjs';

/** A generator of its own, so that a seed gives the same misfortunes again (mulberry32). */
export function randomOf(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

const signal = (pid, name) => {
  try {
    process.kill(pid, name);
    return true;
  } catch {
    return false;
  }
};

/** Kills one process of a part; false where there is none just now. */
const kill = (part) => (house, pick) => {
  const pids = house.parts()[part];
  return pids.length > 0 && signal(pick(pids), 'SIGKILL');
};

/** Stops a process of a part for a while, as a busy machine or a debugger would. */
const freeze = (part, ms) => async (house, pick) => {
  const pids = house.parts()[part];
  if (pids.length === 0) return false;
  const pid = pick(pids);
  if (!signal(pid, 'SIGSTOP')) return false;
  await sleep(ms);
  signal(pid, 'SIGCONT');
  return true;
};

const fill = (ms) => async (house) => {
  if (!house.hasSmallDisk) return false;
  await fillFor(house.folder, ms);
  return true;
};

/** How often each comes, of all of them. */
const MISFORTUNES = [
  { name: 'worker killed', weight: 6, strike: kill('worker') },
  { name: 'pages killed', weight: 4, strike: kill('pages') },
  { name: 'bench killed', weight: 4, strike: kill('bench') },
  { name: 'database killed', weight: 3, strike: kill('database') },
  { name: 'connection killed', weight: 4, strike: kill('connection') },
  { name: 'supervisor killed', weight: 2, strike: kill('supervisor') },
  { name: 'worker stopped for 20 s', weight: 1, strike: freeze('worker', 20_000) },
  { name: 'worker stopped for 60 s', weight: 0.5, strike: freeze('worker', 60_000) },
  { name: 'bench stopped for 8 s', weight: 1, strike: freeze('bench', 8000) },
  { name: 'database stopped for 8 s', weight: 1, strike: freeze('database', 8000) },
  { name: 'disk full for 15 s', weight: 1.5, strike: fill(15_000) },
];

function drawn(random, list) {
  let at = random() * list.reduce((sum, { weight }) => sum + weight, 0);
  return list.find(({ weight }) => (at -= weight) < 0) ?? list[0];
}

/** Seconds between one and the next: sometimes the second comes while the first is mended. */
const REST_MS = [200, 12_000];

/**
 * Strikes so often, with what has a name like `only`; gives how often each. `tell` hears of each.
 */
export async function strike(house, { times, random, only, tell }) {
  const list = MISFORTUNES.filter(({ name }) => name.includes(only));
  if (list.length === 0) throw new Error(`no misfortune has a name like ${only}`);
  const counts = {};
  const pick = (pids) => pids[Math.floor(random() * pids.length)];
  for (let done = 0; done < times;) {
    await sleep(REST_MS[0] + random() * (REST_MS[1] - REST_MS[0]));
    const { name, strike: does } = drawn(random, list);
    if (!(await does(house, pick))) continue;
    done++;
    counts[name] = (counts[name] ?? 0) + 1;
    tell(`${done}. ${name}`);
  }
  return counts;
}
