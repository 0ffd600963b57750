'use client';
/** The file at the cursor, always open: as text, or as bytes. */
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { looksLikeText, textOf } from '@/core/scan/text';
import type { DocketData } from '../data/queries';
import { useKey } from '../parts/keys';

export type ReadableFile = Pick<DocketData['contents'][number]['entries'][number], 'id' | 'path' | 'bytes' | 'sha256' | 'recoverable'>;

/** Bytes listed as hexadecimal before the rest is left out. */
const HEX_BYTES = 4096;

async function fetchPreview(id: number): Promise<Uint8Array> {
  const response = await fetch(`/api/files/${id}?preview`);
  if (!response.ok) throw new Error(((await response.json()) as { error?: string }).error ?? 'The file can\'t be read.');
  return new Uint8Array(await response.arrayBuffer());
}

export function asHex(bytes: Uint8Array): string {
  const rows: string[] = [];
  for (let at = 0; at < bytes.length; at += 8) {
    const row = bytes.subarray(at, at + 8);
    const hex = [...row].map((byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ').padEnd(23);
    rows.push(`${at.toString(16).toUpperCase().padStart(4, '0')}  ${hex}  ${[...row].map((byte) => (byte >= 0x20 && byte < 0x7f ? String.fromCharCode(byte) : '·')).join('')}`);
  }
  return rows.join('\n');
}

export function ReadingColumn({ file, filesystem }: { file: ReadableFile | null; filesystem: string }) {
  const [wanted, setWanted] = useState<'text' | 'bytes' | null>(null);
  const readable = file !== null && file.recoverable !== 'none';
  const { data, error } = useQuery({ queryKey: ['file', file?.id], queryFn: () => fetchPreview(file!.id), enabled: readable, staleTime: Infinity });
  const shown = wanted ?? (data && !looksLikeText(data) && textOf(data, filesystem) === null ? 'bytes' : 'text');
  useKey('b', () => setWanted(shown === 'bytes' ? 'text' : 'bytes'));
  return (
    <aside aria-label="File at the cursor" className="sticky top-0 max-h-[calc(100vh-130px)] self-start overflow-auto border-l border-line bg-sheet px-4 py-3">
      {!file && <p className="text-ink-2">Choose a file, or press J, to read it here.</p>}
      {file && <>
        <h3 className="truncate font-mono text-[15px] font-[650]" title={file.path}>{file.path.split('/').pop()}</h3>
        <p className="mb-2 text-[12px] text-ink-2">{shown === 'text' ? 'as text' : 'as bytes'} · B for {shown === 'text' ? 'bytes' : 'text'}{data && data.length < file.bytes ? ` · the first ${data.length} of ${file.bytes} bytes` : ''}</p>
        {!readable && <p>Nothing of it is left: its clusters hold other files.</p>}
        {error && <p role="alert">{error.message}</p>}
        {data && <pre data-testid="reading" className="overflow-x-auto whitespace-pre font-mono text-[12px] leading-[19px]">{shown === 'text' ? textOf(data, filesystem) ?? asHex(data.subarray(0, HEX_BYTES)) : asHex(data.subarray(0, HEX_BYTES))}</pre>}
        {file.sha256 && <p className="mt-3 break-all font-mono text-[11px] text-ink-2">SHA-256 {file.sha256.match(/.{1,8}/g)!.join(' ')}</p>}
      </>}
    </aside>
  );
}
