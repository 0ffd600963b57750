'use client';
/**
 * A card that came back: its files are hashed here, held against what was put on it, and what
 * changed can be taken in.
 */
import { Dispatch, SetStateAction, useEffect, useRef, useState } from 'react';
import type { CardChange } from '@/core/assembly/memory-card';
import { post } from '../data/api';
import { uploadAtOnce } from '../data/upload-parts';
import { say } from '@/messages';

interface Compared {
  path: string;
  bytes: number;
  sha256: string;
  change: CardChange;
  code: string | null;
}

const WORDS: Record<CardChange, string> = {
  same: say.memoryCards.asItWas,
  changed: 'changed',
  missing: say.memoryCards.notThere,
  new: say.memoryCards.notOurs,
};

const hex = (bytes: ArrayBuffer) =>
  [...new Uint8Array(bytes)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
/** Below the folder that was chosen. */
const pathOf = (file: File) => file.webkitRelativePath.split('/').slice(1).join('/') || file.name;

export function ComeBack({ card }: { card: number }) {
  const picker = useRef<HTMLInputElement>(null);
  const [files, setFiles] = useState<ReadonlyMap<string, File>>(new Map());
  const [result, setResult] = useState<Compared[] | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  useEffect(() => picker.current?.setAttribute('webkitdirectory', ''), []);
  const compare = async (chosen: readonly File[]) => {
    await compareWithCard(setResult, chosen, setSaid, card, setFiles);
  };
  const takeIn = async ({ path, code }: Compared) => {
    const file = files.get(path.toLowerCase());
    if (!file) return;
    setSaid(say.memoryCards.takingIn({ path }));
    const name = say.memoryCards.fromCard({
      path,
      card,
      codePart: code ? say.memoryCards.was({ code }) : '',
    });
    await uploadAtOnce(file, { name }).then(
      (taken) => setSaid(say.memoryCards.isTakenInAs({ path, code: taken.code ?? '' })),
      (error: Error) => setSaid(error.message),
    );
  };
  const differing = result?.filter(({ change }) => change !== 'same') ?? [];
  return (
    <span className="flex-1">
      <button
        type="button"
        onClick={() => picker.current?.click()}
        className="text-oxide underline"
      >
        {say.memoryCards.itCameBackCompare}
      </button>
      <input
        ref={picker}
        type="file"
        multiple
        hidden
        data-testid={`come-back-${card}`}
        onChange={(event) => {
          void compare([...(event.target.files ?? [])]);
          event.target.value = '';
        }}
      />
      {said && (
        <span role="status" className="ml-3">
          {said}
        </span>
      )}
      {result && <ComparedList card={card} differing={differing} result={result} takeIn={takeIn} />}
    </span>
  );
}

async function compareWithCard(
  setResult: Dispatch<SetStateAction<Compared[] | null>>,
  chosen: readonly File[],
  setSaid: Dispatch<SetStateAction<string | null>>,
  card: number,
  setFiles: Dispatch<SetStateAction<ReadonlyMap<string, File>>>,
) {
  try {
    setResult(null);
    const found = [];
    for (const [i, file] of chosen.entries()) {
      setSaid(say.memoryCards.readingOf({ i: i + 1, chosen: chosen.length }));
      found.push({
        path: pathOf(file),
        bytes: file.size,
        sha256: hex(await crypto.subtle.digest('SHA-256', await file.arrayBuffer())),
      });
    }
    setResult(await post<Compared[]>(`/api/memory-cards/${card}/compare`, { files: found }));
    setFiles(new Map(chosen.map((file) => [pathOf(file).toLowerCase(), file])));
    setSaid(null);
  } catch (error) {
    setSaid(error instanceof Error ? error.message : String(error));
  }
}

interface ComparedListProps {
  card: number;
  differing: Compared[];
  result: Compared[];
  takeIn: ({ path, code }: Compared) => Promise<void>;
}

function ComparedList({ card, differing, result, takeIn }: ComparedListProps) {
  return (
    <span className="mt-1 block" data-testid={`compared-${card}`}>
      <b>
        {differing.length === 0
          ? say.memoryCards.allImagesAreAs({ result: result.length })
          : say.memoryCards.asTheyWereNot({
              result: result.length - differing.length,
              differing: differing.length,
            })}
      </b>
      {differing.map((file) => (
        <span key={file.path} className="block">
          <span className="font-mono">{file.path}</span> {WORDS[file.change]}
          {file.code && (
            <>
              {' '}
              (<span className="font-mono">{file.code}</span>)
            </>
          )}{' '}
          {(file.change === 'changed' || file.change === 'new') && (
            <button
              type="button"
              onClick={() => void takeIn(file)}
              className="ml-2 text-oxide underline"
            >
              {say.memoryCards.takeItIn}
            </button>
          )}
        </span>
      ))}
    </span>
  );
}
