/** A bench with a token does nothing for a connection that has not shown it. */
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { BenchClient } from '@/benchlink/client';
import { encodeFrame, FrameReader } from '@/benchlink/framing';
import type { RequestBody } from '@/benchlink/messages';
import { Bench } from './server';

let folder: string;
const running: Bench[] = [];

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'spindle-bench-'));
});
afterEach(async () => {
  for (const bench of running.splice(0)) await bench.close();
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

async function start(token?: string): Promise<number> {
  const bench = new Bench({ shelfFolder: folder, speed: 0, token });
  running.push(bench);
  return bench.listen(0);
}
const enter = (port: number, token: string) =>
  BenchClient.connect({ host: '127.0.0.1', port, token });

/** What a connection is answered that asks without a word before it. */
async function answered(port: number, asked: RequestBody): Promise<unknown> {
  const socket = connect({ host: '127.0.0.1', port });
  const frames = new FrameReader();
  socket.write(encodeFrame({ ...asked, id: 1 }));
  try {
    for (;;) {
      const [chunk] = (await once(socket, 'data')) as [Buffer];
      const answer = frames.push(chunk).find(({ message }) => 'ok' in message);
      if (answer) return answer.message;
    }
  } finally {
    socket.destroy();
  }
}

test('the token opens it', async () => {
  const client = await enter(await start('of this run'), 'of this run');
  expect((await client.drives()).length).toBeGreaterThan(0);
  client.close();
});

test.each(['', 'of another run', 'of this run '])('another does not: "%s"', async (token) => {
  const port = await start('of this run');
  await expect(enter(port, token)).rejects.toMatchObject({ failure: 'refused' });
});

test.each<RequestBody>([
  { op: 'drives' },
  { op: 'hand-shelf' },
  { op: 'cancel', target: 1 },
  { op: 'status', drive: 'A' },
  { op: 'admit', token: 'a guess' },
])('nothing is done without it: $op', async (asked) => {
  const port = await start('of this run');
  expect(await answered(port, asked)).toMatchObject({ ok: false, failure: 'refused' });
});

test('what one connection has shown counts for no other', async () => {
  const port = await start('of this run');
  const client = await enter(port, 'of this run');
  expect(await answered(port, { op: 'drives' })).toMatchObject({ ok: false, failure: 'refused' });
  client.close();
});

test('a bench without a token asks for none', async () => {
  const client = await enter(await start(), '');
  expect(await client.shelf()).toEqual([]);
  client.close();
});
