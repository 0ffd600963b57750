/**
 * XMODEM: blocks as the standard has them, over lines that lose, change and cut; going on after the
 * sender was stopped.
 */
import { said } from '@/core/said';
import { seededRandom } from '../bits/random';
import { ACK, ASKS_CRC, blockBytes, CAN, EOT, NAK, SOH, STX, XmodemSender } from './xmodem';
import { XmodemReceiver } from './xmodem-receiver';

const noise = (seed: string, length: number) => {
  const random = seededRandom(seed);
  return Uint8Array.from({ length }, () => random.below(256));
};

test('a block by hand: mark, number, complement, bytes, and the check that the standard gives', () => {
  // The check value of this CRC over "123456789" is 31C3h; followed by its own check, any data
  // gives 0.
  const block = blockBytes(1, new TextEncoder().encode('123456789'), false);
  expect([block.length, block[0], block[1], block[2], block[3], block[12]]).toEqual([
    133,
    SOH,
    1,
    254,
    0x31,
    0x1a,
  ]);
  // Sum of 128 bytes, by hand: 45 + 9 × 48 of the digits, 119 × 1Ah of the filling.
  expect(blockBytes(7, new TextEncoder().encode('123456789'), true)[131]).toBe(
    (45 + 9 * 48 + 119 * 0x1a) & 0xff,
  );
  // 128 zeros have the check 0; one bit at the end is the polynomial itself.
  expect([...blockBytes(255, new Uint8Array(128), false).subarray(131)]).toEqual([0, 0]);
  const last = new Uint8Array(128);
  last[127] = 1;
  expect([...blockBytes(0, last, false).subarray(131)]).toEqual([0x10, 0x21]);
  expect(blockBytes(3, new Uint8Array(1024), false)).toHaveLength(1029);
  expect(blockBytes(3, new Uint8Array(1024), false)[0]).toBe(STX);
});

/**
 * Runs both sides over a line that changes each direction's bytes by `spoil`; stops and goes on
 * where `stop` says.
 */
function run(
  bytes: Uint8Array,
  {
    large = false,
    crc = true,
    knowsLarge = true,
    spoil = (data: Uint8Array) => data,
    stopAt = [] as number[],
  } = {},
) {
  let sender = XmodemSender.begin(bytes, large);
  const receiver = new XmodemReceiver({ crc, large: knowsLarge });
  let toSender: Uint8Array = Uint8Array.of(receiver.ask());
  const stops = [...stopAt];
  for (let step = 0; step < 20_000 && !receiver.isDone && sender.state !== 'failed'; step++) {
    const sent = sender.take(toSender);
    if (stops.length > 0 && sender.state === 'sending' && sender.at.acknowledged >= stops[0]!) {
      stops.shift();
      // Whoever sent was stopped: what it sent last may be lost, and the next one knows only what
      // was acknowledged.
      sender = new XmodemSender(bytes, sender.at);
      toSender = Uint8Array.of(receiver.silence());
      continue;
    }
    if (sent.length === 0) {
      const again = sender.silence();
      toSender = Uint8Array.from(again ? receiver.take(spoil(again)) : [receiver.silence()]);
      continue;
    }
    const answers = receiver.take(spoil(Uint8Array.from(sent.flatMap((each) => [...each]))));
    toSender =
      answers.length > 0 ? spoil(Uint8Array.from(answers)) : Uint8Array.of(receiver.silence());
  }
  if (receiver.isDone) sender.take(Uint8Array.of(ACK));
  return { sender, receiver };
}

test.each([
  ['nothing', 0],
  ['one byte', 1],
  ['a block', 128],
  ['a block and a byte', 129],
  ['a disk', 143_360],
])('%s arrives, filled up to whole blocks', (_, length) => {
  const bytes = noise('x', length);
  for (const large of [false, true]) {
    const { sender, receiver } = run(bytes, { large });
    expect(sender.state).toBe('done');
    expect(
      Buffer.compare(Buffer.from(receiver.received.slice(0, length)), Buffer.from(bytes)),
    ).toBe(0);
    expect(receiver.received.slice(length).every((byte) => byte === 0x1a)).toBe(true);
    expect(receiver.received.length).toBe(Math.ceil(length / 128) * 128);
  }
});

test('the other side knows sums only, or small blocks only', () => {
  const bytes = noise('y', 5000);
  for (const able of [{ crc: false }, { knowsLarge: false }]) {
    const { sender, receiver } = run(bytes, { large: true, ...able });
    expect(sender.state).toBe('done');
    expect(Buffer.from(receiver.received.slice(0, 5000)).equals(Buffer.from(bytes))).toBe(true);
  }
});

test('over a noisy line and through stops everything arrives once', () => {
  const bytes = noise('z', 40_000);
  for (const seed of ['a', 'b', 'c']) {
    const random = seededRandom(seed);
    // One message in twenty is hurt or lost. What answers is hurt more seldom: one wrong byte of it
    // may be taken for another word.
    const spoil = (data: Uint8Array) => {
      if (data.length < 10 || random.below(20) > 0) return data;
      if (random.below(2) === 0) return data.subarray(0, random.below(data.length));
      const hurt = data.slice();
      hurt[random.below(data.length)]! ^= 1 << random.below(8);
      return hurt;
    };
    const { sender, receiver } = run(bytes, {
      large: seed === 'b',
      spoil,
      stopAt: [0, 3000, 3000, 20_000, 39_936],
    });
    expect([seed, sender.state, sender.reason]).toEqual([seed, 'done', null]);
    expect(Buffer.from(receiver.received.slice(0, 40_000)).equals(Buffer.from(bytes))).toBe(true);
  }
});

test('an acknowledgement that is lost sends the block again, and it counts once', () => {
  const bytes = noise('w', 256);
  const sender = XmodemSender.begin(bytes, false);
  const receiver = new XmodemReceiver({ crc: true, large: false });
  const [first] = sender.take(Uint8Array.of(ASKS_CRC));
  expect(receiver.take(first!)).toEqual([ACK]);
  const again = sender.silence()!;
  expect(receiver.take(again)).toEqual([ACK]);
  const [second] = sender.take(Uint8Array.of(ACK));
  expect(second![1]).toBe(2);
  expect(receiver.received).toHaveLength(128);
});

test('it ends with a reason: nobody asks, too many refusals, given up at either side', () => {
  const silent = XmodemSender.begin(noise('s', 10), false);
  for (let i = 0; i < 11; i++) silent.silence();
  expect([silent.state, silent.reason]).toEqual([
    'failed',
    said('transfers.theOtherSideDoesNotBegin'),
  ]);
  const refused = XmodemSender.begin(noise('s', 300), false);
  refused.take(Uint8Array.of(ASKS_CRC, ACK));
  for (let i = 0; i < 11; i++) refused.take(Uint8Array.of(NAK));
  expect([refused.state, refused.reason]).toEqual([
    'failed',
    said('transfers.oneBlockWasRefused', { times: 10, acknowledged: 128 }),
  ]);
  const other = XmodemSender.begin(noise('s', 300), false);
  other.take(Uint8Array.of(ASKS_CRC, CAN));
  expect(other.state).toBe('sending');
  other.take(Uint8Array.of(CAN, CAN));
  expect(other.reason).toEqual(said('transfers.theOtherSideGave'));
  const own = XmodemSender.begin(noise('s', 300), false);
  expect([...own.cancel()]).toEqual([CAN, CAN, CAN]);
  expect([own.take(Uint8Array.of(ASKS_CRC)), EOT]).toEqual([[], 4]);
});
