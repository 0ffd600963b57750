'use client';
/** A station's drive: what it can do, how its head is, and how its last test came out. */
import type { Station } from '../data/queries';
import { when } from '../parts/page';
import { grouped } from '@/core/text/grouped';
import { readsBlocks, type BlockAbilities } from '@/core/drive-abilities';
import { READINGS_BETWEEN_CLEANINGS } from '@/core/reading/plan/head-care';
import { say } from '@/messages';

function blockFacts({ bus, speeds }: BlockAbilities): [string, string][] {
  return [
    [say.stations.delivers, say.stations.blocksCheckedByThe],
    [say.stations.connectedBy, bus],
    [say.stations.speeds, speeds.length > 0 ? speeds.join(', ') : say.stations.cantBeSet],
    [say.stations.writes, say.stations.noItIsRead],
  ];
}

/** What to try when a device is not seen, or stalls; in this order. */
const NOT_SEEN = [
  say.stations.isItPoweredAnd,
  say.stations.bothEndsOfIts,
  say.stations.oneMasterAndOne,
  say.stations.aloneOnItsBus,
  say.stations.aSlowerPortOr,
  say.stations.leaveItForAn,
];

export function DriveCare({ station }: { station: Station }) {
  const { abilities, readingsSinceCleaning, sheddingSinceCleaning, cleaningDue, test } = station;
  const facts = factsOf(abilities, station);
  return (
    <section
      aria-label={say.stations.theDrive}
      className="mt-6 max-w-[640px] text-[13px]"
      data-testid="drive"
    >
      <h2 className="mb-1">{say.stations.theDrive}</h2>
      <dl className="grid grid-cols-[170px_1fr] gap-y-1">
        {facts?.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-ink-2">{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
        {!readsBlocks(abilities) && (
          <HeadAndTest
            cleaningDue={cleaningDue}
            readingsSinceCleaning={readingsSinceCleaning}
            sheddingSinceCleaning={sheddingSinceCleaning}
            test={test}
          />
        )}
      </dl>
      {readsBlocks(abilities) && <IfNotSeen />}
      {test?.result && test.result.tracks.length > 0 && <TestTracks test={test} />}
    </section>
  );
}

function IfNotSeen(): import('react').ReactNode {
  return (
    <>
      <h2 className="mb-1 mt-5">{say.stations.ifItIsNot}</h2>
      <ol className="list-decimal space-y-0.5 pl-5">
        {NOT_SEEN.map((each) => (
          <li key={each}>{each}</li>
        ))}
      </ol>
    </>
  );
}

function factsOf(abilities: Station['abilities'], station: Station) {
  return (
    abilities &&
    (readsBlocks(abilities)
      ? blockFacts(abilities)
      : [
          [
            say.stations.positionsOfTheHead,
            say.stations.twoHeads({ cylinders: abilities.cylinders, heads: abilities.heads }),
          ],
          [say.stations.turnsAMinute, String(abilities.rpm)],
          [
            say.stations.steps,
            abilities.cylinders > 70 && station.form === '5.25'
              ? say.stations.twoACylinderOn
              : say.stations.oneACylinder,
          ],
          [
            say.stations.delivers,
            abilities.delivers === 'flux'
              ? say.stations.fluxEveryTransition
              : say.stations.sectorsWithWhatThe,
          ],
          [say.stations.writes, abilities.writes ? say.stations.blanksOnly : 'no'],
        ])
  );
}

interface HeadAndTestProps {
  cleaningDue: string | null;
  readingsSinceCleaning: number;
  sheddingSinceCleaning: number;
  test: Station['test'];
}

function LastTest({ test }: Pick<HeadAndTestProps, 'test'>) {
  if (!test) return say.stations.nonePutAReference;
  if (test.state !== 'done' || !test.result) return test.now;
  return (
    <span suppressHydrationWarning>
      <b>{test.result.passed ? say.stations.passed : say.stations.notPassed}</b>,{' '}
      {when(test.endedAt!)}: {test.result.findings.join(' ')}
    </span>
  );
}

function HeadAndTest({
  cleaningDue,
  readingsSinceCleaning,
  sheddingSinceCleaning,
  test,
}: HeadAndTestProps) {
  return (
    <>
      <dt className="text-ink-2">{say.stations.head}</dt>
      <dd className={cleaningDue ? 'font-[650]' : ''}>
        {cleaningDue ??
          say.stations.cleanOfReadingsSince({
            readingsSinceCleaning: grouped(readingsSinceCleaning),
            readingsBetweenCleanings: grouped(READINGS_BETWEEN_CLEANINGS),
            sheddingSinceCleaning,
          })}
      </dd>
      <dt className="text-ink-2">{say.stations.lastTest}</dt>
      <dd>
        <LastTest test={test} />
      </dd>
    </>
  );
}

function TestTracks({ test }: { test: NonNullable<Station['test']> }) {
  return (
    <table className="mt-2 border-collapse">
      <thead>
        <tr className="border-b border-line">
          <th className="pr-6">{say.stations.track}</th>
          <th className="pr-6 text-right">{say.stations.sound}</th>
          <th className="pr-6 text-right">{say.stations.turnsAMinute}</th>
          <th className="text-right">{say.stations.transitionsOffOfA}</th>
        </tr>
      </thead>
      <tbody>
        {test.result!.tracks.map(({ cylinder, head, sectors, sound, rpm, spread }) => (
          <tr key={`${cylinder}/${head}`} className="border-b border-line">
            <td className="pr-6">{say.stations.cylinderHead({ cylinder, head })}</td>
            <td className="pr-6 text-right">{say.stations.of({ sound, sectors })}</td>
            <td className="pr-6 text-right">{rpm.toFixed(2)}</td>
            <td className="text-right">{(100 * spread).toFixed(1)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
