'use client';
/** The zones of a program: which sample sounds over which keys and velocities, and how. */
import { say } from '@/messages';
import type { ListedRegion } from './program-voices';

const TITLES = [
  say.sounds.sample,
  say.sounds.keys,
  say.sounds.velocities,
  say.sounds.pitch,
  say.sounds.loop,
];

export function ZoneTable({ regions }: { regions: readonly ListedRegion[] }) {
  return (
    <table className="mt-3 w-full text-[13px]" aria-label={say.sounds.zones}>
      <thead>
        <tr className="border-b border-line text-left text-ink-2">
          {TITLES.map((title) => (
            <th key={title} scope="col" className="py-1 font-normal">
              {title}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {regions.map((region, i) => (
          <Zone key={i} region={region} />
        ))}
      </tbody>
    </table>
  );
}

function Zone({ region }: { region: ListedRegion }) {
  const { sample, sampleName, lowKey, highKey, lowVelocity, highVelocity, cents, loop } = region;
  const cells = [
    say.sounds.range({ low: lowKey, high: highKey }),
    say.sounds.range({ low: lowVelocity, high: highVelocity }),
    say.sounds.ofCents({ cents }),
    say.sounds.loopModes[loop],
  ];
  return (
    <tr className="border-b border-line">
      <td className="py-1 font-mono">
        {sampleName}
        {sample === null && <span className="text-oxide"> {say.sounds.notThere}</span>}
      </td>
      {cells.map((cell, i) => (
        <td key={i}>{cell}</td>
      ))}
    </tr>
  );
}
