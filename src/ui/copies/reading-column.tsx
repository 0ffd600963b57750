'use client';
/**
 * The file at the cursor, always open: as text in any character set, as a listing, as a picture, or
 * as bytes with what lies where.
 */
import { useQuery } from '@tanstack/react-query';
import {
  Dispatch,
  SetStateAction,
  useEffect,
  useMemo,
  useRef,
  useState,
  type ReactNode,
} from 'react';
import type { Picture } from '@/core/picture/canvas';
import { fileFields } from '@/core/structure/file-fields';
import { tell } from '@/messages/tell';
import { LINE_ENDS, nameOfSet, usualSet, type LineEnds } from '@/core/text/character-sets';
import type { DocketData } from '../data/queries';
import { grouped } from '@/core/text/grouped';
import { HexRows, type MarkedRange } from '../parts/hex-rows';
import { useKey } from '../parts/keys';
import { readFile, SETS, USUAL, type Shown, type TextChoice } from './file-reading';
import { AsSoundLink } from './as-sound-link';
import { HeardInColumn, soundOf } from './heard-in-column';
import { doubtPlaces } from './doubt-places';
import type { FileReading } from './file-reading';
import { say } from '@/messages';

export type ReadableFile = Pick<
  DocketData['contents'][number]['entries'][number],
  'id' | 'path' | 'type' | 'bytes' | 'sha256' | 'recoverable' | 'doubts'
>;

/** Bytes listed as hexadecimal before the rest is left out. */
const HEX_BYTES = 4096;

const END_NAMES: Record<LineEnds, string> = {
  any: say.copies.anyLineEnd,
  cr: 'CR',
  lf: 'LF',
  crlf: say.copies.crLf,
  none: say.copies.noneOneLine,
};

async function fetchPreview(id: number): Promise<Uint8Array<ArrayBuffer>> {
  const response = await fetch(`/api/files/${id}?preview`);
  if (!response.ok)
    throw new Error(
      ((await response.json()) as { error?: string }).error ?? say.copies.theFileCantBe,
    );
  return new Uint8Array(await response.arrayBuffer());
}

function Pixels({ picture, label }: { picture: Picture; label: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(
    () =>
      canvas
        .current!.getContext('2d')!
        .putImageData(new ImageData(picture.rgba, picture.width, picture.height), 0, 0),
    [picture],
  );
  return (
    <canvas
      ref={canvas}
      width={picture.width}
      height={picture.height}
      role="img"
      aria-label={label}
      data-testid="picture"
      className="max-w-full border border-line [image-rendering:pixelated]"
      style={{
        width: '100%',
        aspectRatio: `${picture.width * picture.pixelAspect} / ${picture.height}`,
      }}
    />
  );
}

function Drawn({
  bytes,
  type,
  label,
}: {
  bytes: Uint8Array<ArrayBuffer>;
  type: string;
  label: string;
}) {
  const url = useMemo(() => URL.createObjectURL(new Blob([bytes], { type })), [bytes, type]);
  useEffect(() => () => URL.revokeObjectURL(url), [url]);
  // eslint-disable-next-line @next/next/no-img-element -- bytes of the archive, not of the site
  return <img src={url} alt={label} data-testid="picture" className="w-full border border-line" />;
}

const select = 'max-w-[170px] border border-line bg-ground px-1 py-0.5 text-[12px]';

interface ReadingColumnProps {
  file: ReadableFile | null;
  filesystem: string;
}

const Doubtful = ({ children }: { children: ReactNode }) => (
  <p className="mb-2 border-l-4 border-[var(--grade-doubtful)] px-2 text-[13px]">{children}</p>
);

interface ReadingProps {
  shown: Shown;
  reading: FileReading;
  data: Uint8Array<ArrayBuffer>;
  marks: MarkedRange[];
  path: string;
}

/** The file itself: a picture, a text, or its bytes. */
function Reading({ shown, reading, data, marks, path }: ReadingProps) {
  if (shown === 'picture')
    return reading.picture ? (
      <Pixels picture={reading.picture} label={path} />
    ) : (
      <Drawn bytes={data} type={reading.drawn!} label={path} />
    );
  return <ReadingText shown={shown} reading={reading} data={data} marks={marks} />;
}

const isReadable = (file: ReadableFile | null): boolean =>
  file !== null && file.recoverable !== 'none';

/** The file's first bytes, what they are read as, and the ways in which they can be shown. */
function useReading(file: ReadableFile | null, filesystem: string, choice: TextChoice) {
  const [wanted, setWanted] = useState<Shown | null>(null);
  const { data, error } = useQuery({
    queryKey: ['file', file?.id],
    queryFn: () => fetchPreview(file!.id),
    enabled: isReadable(file),
    staleTime: Infinity,
  });
  const reading = useMemo(
    () => data && file && readFile(data, filesystem, file.type, choice),
    [data, file, filesystem, choice],
  );
  const ways: Shown[] = reading?.ways ?? ['text', 'bytes'];
  const shown = wanted && ways.includes(wanted) ? wanted : ways[0]!;
  const next = ways[(ways.indexOf(shown) + 1) % ways.length]!;
  // Back at what it is likeliest to be, nothing is wanted: the next file is shown as what that is
  // likeliest to be.
  useKey('b', () => setWanted(next === ways[0] ? null : next));
  return { data, error, reading, shown, next };
}

export function ReadingColumn({ file, filesystem }: ReadingColumnProps) {
  const [choice, setChoice] = useState<TextChoice>(USUAL);
  const { data, error, reading, shown, next } = useReading(file, filesystem, choice);
  return (
    <aside
      aria-label={say.copies.fileAtTheCursor}
      className={
        'sticky top-0 max-h-[calc(100vh-130px)] self-start overflow-auto border-l ' +
        'border-line bg-sheet px-4 py-3'
      }
    >
      {!file && <p className="text-ink-2">{say.copies.chooseAFileOr}</p>}
      {file && (
        <>
          <h3 className="truncate font-mono text-[15px] font-[650]" title={file.path}>
            {file.path.split('/').pop()}
          </h3>
          <ReadAs shown={shown} reading={reading} next={next} data={data} file={file} />
          {shown === 'text' && data && (
            <TextChoices choice={choice} setChoice={setChoice} filesystem={filesystem} />
          )}
          <HeardHere file={file} filesystem={filesystem} />
          <Doubts file={file} trouble={shown === 'bytes' ? null : reading?.trouble} />
          {error && <p role="alert">{error.message}</p>}
          {reading && data && (
            <Reading
              shown={shown}
              reading={reading}
              data={data}
              marks={marksIn(file, data, filesystem)}
              path={file.path}
            />
          )}
          {file.sha256 && <Digest sha256={file.sha256} />}
          {isReadable(file) && <AsSoundLink file={file.id} />}
        </>
      )}
    </aside>
  );
}

function HeardHere({ file, filesystem }: { file: ReadableFile; filesystem: string }) {
  const address = isReadable(file) ? soundOf(file, filesystem) : null;
  return address && <HeardInColumn key={file.id} file={file} address={address} />;
}

interface DoubtsProps {
  file: ReadableFile;
  /** What stands against how it is shown. */
  trouble: string | null | undefined;
}

function Doubts({ file, trouble }: DoubtsProps) {
  return (
    <>
      {file.doubts.length > 0 && (
        <Doubtful>
          {doubtPlaces(file.doubts)}
          {say.copies.zerosStandThere}
        </Doubtful>
      )}
      {trouble && <Doubtful>{trouble}</Doubtful>}
      {!isReadable(file) && <p>{say.copies.nothingOfItIs}</p>}
    </>
  );
}

const Digest = ({ sha256 }: { sha256: string }) => (
  <p className="mt-3 break-all font-mono text-[11px] text-ink-2">
    {say.copies.sha256({ match: sha256.match(/.{1,8}/g)!.join(' ') })}
  </p>
);

interface ReadingTextProps {
  shown: string;
  reading: FileReading;
  data: Uint8Array<ArrayBuffer>;
  marks: MarkedRange[];
}

function ReadingText({ shown, reading, data, marks }: ReadingTextProps) {
  return (
    <pre
      data-testid="reading"
      tabIndex={0}
      className="overflow-x-auto whitespace-pre font-mono text-[12px] leading-[19px]"
    >
      {shown === 'text' ? (
        reading.text
      ) : (
        <HexRows bytes={data.subarray(0, HEX_BYTES)} perRow={8} marks={marks} />
      )}
    </pre>
  );
}

function marksIn(
  file: ReadableFile | null,
  data: Uint8Array<ArrayBuffer> | undefined,
  filesystem: string,
): MarkedRange[] {
  return file && data
    ? [
        ...fileFields(data, filesystem, file.type).map(({ offset, length, name, value }, i) => ({
          offset,
          length,
          mark: i % 2 ? ('field-odd' as const) : ('field' as const),
          name: `${tell(name)}: ${tell(value)}`,
        })),
        ...file.doubts.map((range) => ({
          ...range,
          mark: 'doubt' as const,
          name: say.copies.noSoundSector,
        })),
      ]
    : [];
}

interface ReadAsProps {
  shown: Shown;
  reading: FileReading | null | undefined;
  next: string;
  data: Uint8Array<ArrayBuffer> | undefined;
  file: ReadableFile;
}

function ReadAs({ shown, reading, next, data, file }: ReadAsProps) {
  return (
    <p className="mb-1 text-[12px] text-ink-2" data-testid="read-as">
      {shown === 'bytes'
        ? say.copies.asBytes
        : say.copies.as3({
            shown,
            value: reading && reading.kind !== shown ? `: ${reading.kind}` : '',
          })}{' '}
      {say.copies.bFor({ next })}
      {data && data.length < file.bytes
        ? say.copies.theFirstOfBytes({ data: grouped(data.length), bytes: grouped(file.bytes) })
        : ''}
    </p>
  );
}

interface TextChoicesProps {
  choice: TextChoice;
  setChoice: Dispatch<SetStateAction<TextChoice>>;
  filesystem: string;
}

function TextChoices({ choice, setChoice, filesystem }: TextChoicesProps) {
  return (
    <p className="mb-2 flex flex-wrap gap-1.5">
      <SetChoice choice={choice} setChoice={setChoice} filesystem={filesystem} />
      <select
        aria-label={say.copies.lineEnds}
        value={choice.ends}
        onChange={(event) => setChoice({ ...choice, ends: event.target.value as LineEnds })}
        className={select}
      >
        {LINE_ENDS.map((ends) => (
          <option key={ends} value={ends}>
            {END_NAMES[ends]}
          </option>
        ))}
      </select>
    </p>
  );
}

interface SetChoiceProps {
  choice: TextChoice;
  setChoice: TextChoicesProps['setChoice'];
  filesystem: string;
}

function SetChoice({ choice, setChoice, filesystem }: SetChoiceProps) {
  return (
    <select
      aria-label={say.copies.characterSet}
      value={choice.set}
      onChange={(event) => setChoice({ ...choice, set: event.target.value as TextChoice['set'] })}
      className={select}
    >
      {SETS.map((set) => (
        <option key={set} value={set}>
          {set === 'usual'
            ? say.copies.usualHere({ filesystem: nameOfSet(usualSet(filesystem)) })
            : nameOfSet(set)}
        </option>
      ))}
    </select>
  );
}
