/** Media found by words, each to be chosen or left. */
import { grouped } from '@/core/text/grouped';
import { say } from '@/messages';
import type { MediaFacts } from '../../data/queries';

interface MediaPickerProps {
  found: MediaFacts;
  chosen: ReadonlySet<string>;
  setChosen(chosen: ReadonlySet<string>): void;
}

export function MediaPicker({ found, chosen, setChosen }: MediaPickerProps) {
  const { media, total } = found;
  const isAll = chosen.size === media.length;
  const turn = (code: string) => {
    const next = new Set(chosen);
    if (!next.delete(code)) next.add(code);
    setChosen(next);
  };
  return (
    <div className="max-h-[38vh] overflow-auto border border-line bg-sheet">
      <table className="w-full text-[13px]">
        <thead className="sticky top-0 bg-sunk text-left">
          <tr>
            <th className="w-8 py-1.5 pl-3">
              <input
                type="checkbox"
                className="size-4 align-middle"
                aria-label={say.correct.allOfThem}
                checked={isAll}
                onChange={() =>
                  setChosen(isAll ? new Set() : new Set(media.map(({ code }) => code)))
                }
              />
            </th>
            {[
              say.media.code,
              say.media.whatItIs,
              say.media.lender,
              say.media.lot,
              say.media.set,
            ].map((head) => (
              <th key={head} className="px-2 py-1.5 font-[650]">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {media.map((medium) => (
            <PickRow
              key={medium.code}
              medium={medium}
              isChosen={chosen.has(medium.code)}
              turn={() => turn(medium.code)}
            />
          ))}
        </tbody>
      </table>
      {total > media.length && (
        <p className="p-2 text-[13px] text-ink-2">
          {say.correct.firstOfAll({ first: grouped(media.length), total: grouped(total) })}
        </p>
      )}
    </div>
  );
}

interface PickRowProps {
  medium: MediaFacts['media'][number];
  isChosen: boolean;
  turn(): void;
}

function PickRow({ medium: { code, title, lender, lot, setName }, isChosen, turn }: PickRowProps) {
  return (
    <tr className="h-7 border-b border-line" onClick={turn}>
      <td className="pl-3">
        <input
          type="checkbox"
          className="size-4 align-middle"
          aria-label={code}
          checked={isChosen}
          onClick={(event) => event.stopPropagation()}
          onChange={turn}
        />
      </td>
      <td className="whitespace-nowrap px-2 font-mono font-[650]">{code}</td>
      <td className="px-2">{title}</td>
      <td className="px-2">{lender}</td>
      <td className="px-2">{lot}</td>
      <td className="px-2">{setName}</td>
    </tr>
  );
}
