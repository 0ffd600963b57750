/** Keeps what was found in an image: volumes, files, and the words that files are found by. */
import type { Executor } from '@/server/platform/db/database';
import type { ExaminedVolume, KeepText } from './examine-volumes';
import { files, fileTexts, volumes } from '../tables';

const ROWS_AT_ONCE = 500;
/** Words are put away when this many files' are there, or this many characters. */
const TEXTS_AT_ONCE = 100;
const CHARACTERS_AT_ONCE = 1 << 20;

export async function storeVolumes(
  tx: Executor,
  fairCopyId: number,
  examined: readonly ExaminedVolume[],
): Promise<void> {
  for (const { row, files: own } of examined) {
    const [volume] = await tx
      .insert(volumes)
      .values({ fairCopyId, ...row })
      .returning({ id: volumes.id });
    for (let at = 0; at < own.length; at += ROWS_AT_ONCE)
      await tx
        .insert(files)
        .values(
          own.slice(at, at + ROWS_AT_ONCE).map((file) => ({ volumeId: volume!.id, ...file })),
        );
  }
}

/** Words on their way into the store, many files' at a time; the same text is kept once. */
export class TextsToKeep {
  private readonly waiting = new Map<string, string>();
  private characters = 0;

  constructor(private readonly db: Executor) {}

  readonly keep: KeepText = async (sha256, body) => {
    if (this.waiting.has(sha256)) return;
    this.waiting.set(sha256, body);
    this.characters += body.length;
    if (this.waiting.size >= TEXTS_AT_ONCE || this.characters >= CHARACTERS_AT_ONCE)
      await this.flush();
  };

  async flush(): Promise<void> {
    const rows = [...this.waiting].map(([sha256, body]) => ({ sha256, body }));
    this.waiting.clear();
    this.characters = 0;
    // In one order, so that two who keep the same texts never wait for each other.
    rows.sort((a, b) => (a.sha256 < b.sha256 ? -1 : 1));
    if (rows.length > 0) await this.db.insert(fileTexts).values(rows).onConflictDoNothing();
  }
}
