'use client';
/** A station's drive: what it can do, how its head is, and how its last test came out. */
import type { Station } from '../data/queries';
import { when } from '../parts/page';
import { grouped } from '../parts/grade';
import { readsBlocks, type BlockAbilities } from '@/core/drive-abilities';
import { READINGS_BETWEEN_CLEANINGS } from '@/core/reading/plan/head-care';

function blockFacts({ bus, speeds }: BlockAbilities): [string, string][] {
  return [
    ['Delivers', 'blocks, checked by the drive; of raw discs all of each sector'],
    ['Connected by', bus],
    ['Speeds', speeds.length > 0 ? speeds.join(', ') : 'can’t be set'],
    ['Writes', 'no: it is read only'],
  ];
}

/** What to try when a device is not seen, or stalls; in this order. */
const NOT_SEEN = [
  'Is it powered, and does it spin up? Listen and feel.',
  'Both ends of its cable; another cable.',
  'One master and one slave on a cable, never two of a kind: see the jumpers, and ' +
    'note them in the docket.',
  'Alone on its bus, with the bus ended.',
  'A slower port or adapter; a lower speed.',
  'Leave it for an hour at the room’s warmth, and try again.',
];

export function DriveCare({ station }: { station: Station }) {
  const { abilities, readingsSinceCleaning, sheddingSinceCleaning, cleaningDue, test } = station;
  const facts = factsOf(abilities, station);
  return (
    <section aria-label="The drive" className="mt-6 max-w-[640px] text-[13px]" data-testid="drive">
      <h2 className="mb-1">The drive</h2>
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
      {readsBlocks(abilities) && (
        <>
          <h2 className="mb-1 mt-5">If it is not seen, or stalls</h2>
          <ol className="list-decimal space-y-0.5 pl-5">
            {NOT_SEEN.map((each) => (
              <li key={each}>{each}</li>
            ))}
          </ol>
        </>
      )}
      {test?.result && test.result.tracks.length > 0 && <TestTracks test={test} />}
    </section>
  );
}

function factsOf(abilities: Station['abilities'], station: Station) {
  return (
    abilities &&
    (readsBlocks(abilities)
      ? blockFacts(abilities)
      : [
          [
            'Positions of the head',
            `${abilities.cylinders}, ${abilities.heads === 1 ? 'one head' : 'two heads'}`,
          ],
          ['Turns a minute', String(abilities.rpm)],
          [
            'Steps',
            abilities.cylinders > 70 && station.form === '5.25'
              ? 'two a cylinder on 40-cylinder disks, found by itself'
              : 'one a cylinder',
          ],
          [
            'Delivers',
            abilities.delivers === 'flux'
              ? 'flux: every transition'
              : 'sectors, with what the drive says of each',
          ],
          ['Writes', abilities.writes ? 'blanks only' : 'no'],
        ])
  );
}

function HeadAndTest({
  cleaningDue,
  readingsSinceCleaning,
  sheddingSinceCleaning,
  test,
}: {
  cleaningDue: string | null;
  readingsSinceCleaning: number;
  sheddingSinceCleaning: number;
  test: Station['test'];
}) {
  return (
    <>
      <dt className="text-ink-2">Head</dt>
      <dd className={cleaningDue ? 'font-[650]' : ''}>
        {cleaningDue ??
          `clean: ${grouped(readingsSinceCleaning)} of ` +
            `${grouped(READINGS_BETWEEN_CLEANINGS)} readings since it was ` +
            `cleaned${sheddingSinceCleaning === 0 ? ', none of media that shed' : ''}`}
      </dd>
      <dt className="text-ink-2">Last test</dt>
      <dd>
        {!test ? (
          'none; put a reference disk in and press T'
        ) : test.state === 'done' && test.result ? (
          <span suppressHydrationWarning>
            <b>{test.result.passed ? 'Passed' : 'Not passed'}</b>, {when(test.endedAt!)}:{' '}
            {test.result.findings.join(' ')}
          </span>
        ) : (
          test.now
        )}
      </dd>
    </>
  );
}

function TestTracks({ test }: { test: NonNullable<Station['test']> }) {
  return (
    <table className="mt-2 border-collapse">
      <thead>
        <tr className="border-b border-line">
          <th className="pr-6">Track</th>
          <th className="pr-6 text-right">Sound</th>
          <th className="pr-6 text-right">Turns a minute</th>
          <th className="text-right">Transitions off, % of a cell</th>
        </tr>
      </thead>
      <tbody>
        {test.result!.tracks.map(({ cylinder, head, sectors, sound, rpm, spread }) => (
          <tr key={`${cylinder}/${head}`} className="border-b border-line">
            <td className="pr-6">
              cylinder {cylinder}, head {head}
            </td>
            <td className="pr-6 text-right">
              {sound} of {sectors}
            </td>
            <td className="pr-6 text-right">{rpm.toFixed(2)}</td>
            <td className="text-right">{(100 * spread).toFixed(1)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
