/** Bags that came from others: what became of them, what they say, and what was left over. */
import { say } from '@/messages';
import type { Parcels } from '../data/paper-queries';
import { amount } from '@/core/text/amount';
import { when } from '../parts/page';
import { ListedCodes } from './listed-codes';

type CameBag = Parcels['came'][number];

export function CameBags({ bags }: { bags: readonly CameBag[] }) {
  return (
    <section className="mt-8" aria-labelledby="came-bags">
      <h2 id="came-bags" className="text-[19px]">
        {say.parcels.cameIn}
      </h2>
      <p className="mb-2 max-w-[80ch] text-[14px] text-ink-2">{say.parcels.howTheyCome}</p>
      <ul data-testid="came-bags">
        {bags.map((bag) => (
          <CameEntry key={bag.id} bag={bag} />
        ))}
      </ul>
    </section>
  );
}

const saidIn = ({ info }: CameBag, label: string): string =>
  info.find((each) => each.label.toLowerCase() === label)?.value ?? '';

function CameEntry({ bag }: { bag: CameBag }) {
  const { id, name, who, files, bytes, lot, endedAt, manifestSha256, isKept } = bag;
  return (
    <li className="border-b border-line py-3">
      <h3 className="text-[17px] font-[650]">{saidIn(bag, 'external-description') || name}</h3>
      <p className="text-[14px]">
        {name} · {lot && `${say.parcels.inLot({ lot })} · `}
        <span suppressHydrationWarning>
          {endedAt ? say.parcels.takenInBy({ who, at: when(endedAt) }) : say.parcels.isBeingTakenIn}
        </span>
      </p>
      <p className="text-[13px]">
        <ListedCodes codes={bag.codes} media={bag.media} />
      </p>
      <p className="text-[13px]">
        {`${say.parcels.files({ files })}, ${amount(bytes)} · ${say.parcels.manifest} `}
        <span className="font-mono text-[11px] break-all text-ink-2">{manifestSha256}</span>
      </p>
      <SaysOfItself bag={bag} />
      {isKept && (
        <p className="text-[13px]">
          {say.parcels.leftOver({ files: bag.leftOver.join(', '), more: bag.moreLeftOver })}{' '}
          <a href={`/api/parcels/came/${id}`} className="font-[650] text-oxide underline">
            {say.parcels.theBagAsItCame}
          </a>
        </p>
      )}
    </li>
  );
}

function SaysOfItself({ bag: { info } }: { bag: CameBag }) {
  if (info.length === 0) return null;
  return (
    <details className="text-[13px]">
      <summary className="cursor-pointer text-ink-2">{say.parcels.whatItSays}</summary>
      <dl className="mt-1 grid grid-cols-[minmax(10rem,max-content)_1fr] gap-x-4">
        {info.map(({ label, value }, i) => (
          <div key={i} className="contents">
            <dt className="text-ink-2">{label}</dt>
            <dd className="break-words">{value}</dd>
          </div>
        ))}
      </dl>
    </details>
  );
}
