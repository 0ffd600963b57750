/** What the feature transfers says: in errors, in the ledger, of work under way. */
import { grouped } from '@/core/text/grouped';

export const transfers = {
  checkTheCableOf:
    'Check the cable of the line and the power of the bench; it goes on by itself when it is back.',
  checkThatTheLine: 'Check that the line is connected.',
  checkThatTheFar: 'Check that the far machine is on and the line is connected.',
  waitingUntilTheOther: 'Waiting until the other side asks for it',
  typingTheReceivingProgram: ({ split, split2 }: { split: number; split2: number }) =>
    `Typing the receiving program: line ${split} of ${split2}`,
  ofBytesAcknowledged: ({ acknowledged, bytes }: { acknowledged: number; bytes: number }) =>
    `${grouped(acknowledged)} of ${grouped(bytes)} bytes acknowledged`,
  givenUpWhatThe: 'Given up. What the other side has of it is not whole.',
  whatTheOtherSide: ({ reason }: { reason: string }) =>
    `${reason} What the other side has of it is not whole; start it once more, slower.`,
  allBytesWereAcknowledged: ({ bytes, filled }: { bytes: number; filled: number }) =>
    `All ${grouped(bytes)} bytes were acknowledged` +
    (filled > 0 ? `; the file there is ${filled} bytes longer, filled up to a whole block` : '') +
    '.',
  overLine: ({ line, now }: { line: string; now: string }) => `Over line ${line}: ${now}`,
  line: ({ line }: { line: string }) => `line ${line}`,
  thatLineGoesAt: ({ rates }: { rates: string }) => `That line goes at ${rates} bits a second.`,
  thisImageHasBytes: ({ imageBytes, maxBytes }: { imageBytes: number; maxBytes: number }) =>
    `This image has ${grouped(imageBytes)} bytes: over a line that would take ` +
    `days. At most ${grouped(maxBytes)} are sent so.`,
  lineIsBusyWith: ({ line }: { line: string }) =>
    `Line ${line} is busy with another transfer. Wait for it, or give it up.`,
  onItsWayOver: ({ code, line, rate }: { code: string; line: string; rate: number }) =>
    `${code} on its way over line ${line} at ${rate} bits a second.`,
  transfer: ({ id }: { id: number }) => `transfer ${id}`,
  itFailed: 'It failed.',
  givenUp: 'Given up.',
  theOtherSideGave: 'The other side gave it up.',
  theOtherSideDoesNotBegin:
    'The other side does not begin: is its receiving program running, and is the rate the same?',
  nothingComesBack: ({ acknowledged }: { acknowledged: number }) =>
    `Nothing comes back any more; ${grouped(acknowledged)} bytes were acknowledged.`,
  oneBlockWasRefused: ({ times, acknowledged }: { times: number; acknowledged: number }) =>
    `One block was refused ${times} times: the line is too noisy, or too fast for the ` +
    `other side. ${grouped(acknowledged)} bytes were acknowledged.`,
};
