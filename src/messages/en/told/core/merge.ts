/** What the core says of its own accord, by the folder that says it: merge. */
import { counted, raised } from '../../words';

export const merge = {
  itsCheckPassesIn: ({ agreeing, turns }: { agreeing: number; turns: number }) =>
    `its check passes in ${agreeing} of ${turns} turns${agreeing > 1 ? ', which agree' : ''}`,
  allTurnsMakeIt: ({ turns, power }: { turns: number; power: number }) =>
    `read from ${counted(turns, 'turn')}${turns > 1 ? ' together' : ''}; another field is likely in ` +
    `less than 1 of 10${raised(power)}`,
  noTurnShowsIt: 'no single turn shows it, and all of them together leave it in doubt',
  versionsOfItPass: ({ versions }: { versions: number }) =>
    `${versions} versions of it pass their check and contradict each other`,
  itsWeakCheckPasses: 'its weak check passes in one turn only, and what stands beside it is hurt',
  itsCheckPassesInOne: 'its check passes in one turn only, whose cells break the code',
  itsIdWasRead: 'its ID was read, but no data field follows it',
  itsCheckFailsIn: ({ turns }: { turns: number }) =>
    `its check fails in all of ${turns} ${turns === 1 ? 'turn' : 'turns'}`,
  theLayoutHasIt: 'the layout has it here and no ID of it was found',
  itsTrackWasNot: 'its track was not read',
  writtenFasterThanThe: ({ off, off2 }: { off: string; off2: number }) =>
    `written ${off} % ${off2 > 0 ? 'slower' : 'faster'} than the rest of its track`,
  itsCheckPassesInOf: ({ turns, turns2 }: { turns: number; turns2: number }) =>
    `its check passes in ${turns} of ${turns2} turns`,
  itsCheckIsWrong: 'its check is wrong in the same way on every reading',
  bytesToDifferOn: ({ from, to }: { from: number; to: number }) =>
    `bytes ${from} to ${to} differ on every reading while the rest is the same: a weak region`,
  numberStandsOnThis: ({ r }: { r: number }) => `number ${r} stands on this track more than once`,
  theLayoutHasNo: ({ r }: { r: number }) => `the layout has no number ${r}`,
};
