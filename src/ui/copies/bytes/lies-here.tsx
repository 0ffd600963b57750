'use client';
/** What lies at the bytes that are shown: fields, files, and a way to them. */
import Link from 'next/link';
import { type ImageBytes } from '@/ui/data/queries';
import { hexPlace, type MarkedRange } from '@/ui/parts/hex-rows';
import { say } from '@/messages';
import { docketPage } from '../../data/addresses';

const FIELDS_LISTED = 60;

export function marksOf(
  { fields, doubts }: ImageBytes,
  found: { offsets: readonly number[]; length: number } | undefined,
  cursor: number | null,
): MarkedRange[] {
  return [
    ...fields.map(({ offset, length, name, value }, i) => ({
      offset,
      length,
      mark: i % 2 ? ('field-odd' as const) : ('field' as const),
      name: `${name}: ${value}`,
    })),
    ...doubts.map((range) => ({
      ...range,
      mark: 'doubt' as const,
      name: say.bytes.noSoundSectorFilled,
    })),
    ...(found?.offsets ?? []).map((offset) => ({
      offset,
      length: found!.length,
      mark: 'found' as const,
      name: 'found',
    })),
    ...(cursor === null ? [] : [{ offset: cursor, length: 1, mark: 'cursor' as const }]),
  ];
}

interface LiesHereProps {
  data: ImageBytes;
  code: string;
  onGo: (place: number) => void;
}

/** What lies in the stretch that is shown, in words. */
export function LiesHere({ data, code, onGo }: LiesHereProps) {
  return (
    <div className="text-[13px]">
      {data.areas.map(({ name, offset, length, volume }) => (
        <AreaHere
          key={`${name}${offset}`}
          name={name}
          offset={offset}
          length={length}
          volume={volume}
        />
      ))}
      {data.files.map(({ id, path, pieces, deleted }) => (
        <FileHere key={id} path={path} code={code} deleted={deleted} pieces={pieces} />
      ))}
      {data.areas.length + data.files.length === 0 && (
        <p className="text-ink-2">{say.bytes.noFileAndNo}</p>
      )}
      {data.doubts.length > 0 && <DoubtsHere data={data} />}
      {data.fields.length > 0 && <FieldsTable data={data} onGo={onGo} />}
    </div>
  );
}

function DoubtsHere({ data }: { data: LiesHereProps['data'] }): import('react').ReactNode {
  return (
    <p className="mt-1 border-l-4 border-[var(--grade-doubtful)] px-2">
      {say.bytes.noSoundSectorFilledZeros({
        doubts: data.doubts
          .slice(0, 4)
          .map(({ offset, length }) => `${hexPlace(offset)} to ${hexPlace(offset + length - 1)}`)
          .join(', '),
      })}
    </p>
  );
}

function AreaHere({
  name,
  offset,
  length,
  volume,
}: {
  name: string;
  offset: number;
  length: number;
  volume: string;
}) {
  return (
    <p>
      <b>{name}</b>{' '}
      <span className="text-ink-2">
        {say.bytes.to2({ offset: hexPlace(offset), offset2: hexPlace(offset + length - 1) })}

        {volume && `, ${volume}`}
      </span>
    </p>
  );
}

function FileHere({
  path,
  code,
  deleted,
  pieces,
}: {
  path: string;
  code: string;
  deleted: boolean;
  pieces: LiesHereProps['data']['files'][number]['pieces'];
}) {
  return (
    <p className="truncate" title={path}>
      <Link href={docketPage(code, '#contents')} className="font-mono font-[650] hover:underline">
        {path}
      </Link>{' '}
      <span className="text-ink-2">
        {deleted && 'deleted, '}
        {say.bytes.fromItsByte({ at: hexPlace(pieces[0]!.at) })}
      </span>
    </p>
  );
}

function FieldsTable({ data, onGo }: { data: ImageBytes; onGo: (place: number) => void }) {
  return (
    <table className="mt-2 w-full border-collapse text-[12px]" data-testid="fields">
      <tbody>
        {data.fields.slice(0, FIELDS_LISTED).map(({ offset, name, value }) => (
          <tr key={offset + name} className="h-[24px] border-b border-line">
            <td className="pr-2 font-mono">
              <button
                type="button"
                onClick={() => onGo(offset)}
                className="min-h-[24px] min-w-10 text-left hover:underline"
              >
                {hexPlace(offset)}
              </button>
            </td>
            <td className="pr-2 text-ink-2">{name}</td>
            <td className="break-words">{value}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
