/** What was assumed of the track when all its turns were weighed together. */
import { doubtBetween, type TrackWeights } from '@/core/reading/analysis/weigh-track';
import type { TrackSector } from '@/core/reading/track-sector';
import { say } from '@/messages';
import { FactList } from '../parts/fact-list';

/** A turn of which less is garbage is not named. */
const WORTH_NAMING = 0.005;

const percent = (share: number) => (share * 100).toFixed(share < 0.1 ? 1 : 0);

function garbageWords({ turns }: TrackWeights): string {
  const some = turns
    .filter(({ garbage }) => garbage >= WORTH_NAMING)
    .sort((a, b) => b.garbage - a.garbage)
    .slice(0, 3)
    .map(({ reading, turn, garbage }) =>
      say.loupe.garbageInTurn({
        reading: reading + 1,
        turn: turn + 1,
        percent: percent(garbage),
      }),
    );
  return some.length > 0 ? some.join('; ') : say.loupe.inNoTurn;
}

/** The least certain place of a sector; null where it has none, or it was not read. */
function doubtOf({ angle, span }: TrackSector, { doubt }: TrackWeights): string {
  const power = angle === null || span === null ? null : doubtBetween(doubt, angle, span);
  return power === null
    ? '–'
    : say.loupe.oneInCount({ count: Math.round(10 ** Math.min(9, -power)).toLocaleString('en') });
}

export function AssumedPanel({ weights, sector }: { weights: TrackWeights; sector: TrackSector }) {
  const { spread, push, missed, extra } = weights;
  const facts: [string, string][] = [
    [say.loupe.leastCertainPlace, doubtOf(sector, weights)],
    [say.loupe.aTransitionLies, say.loupe.cellsAboutItsPlace({ spread: spread.toFixed(2) })],
    [say.loupe.neighboursPushIt, say.loupe.cellsAtMost({ push: push.toFixed(2) })],
    [say.loupe.aTurnMisses, say.loupe.percentOfThem({ percent: percent(missed) })],
    [say.loupe.aTurnAdds, say.loupe.percentOfThem({ percent: percent(extra) })],
    [say.loupe.garbage, garbageWords(weights)],
  ];
  return (
    <section aria-label={say.loupe.allTurnsTogether} data-testid="assumed">
      <h2 className="mb-1">{say.loupe.allTurnsTogether}</h2>
      <FactList facts={facts} />
    </section>
  );
}
