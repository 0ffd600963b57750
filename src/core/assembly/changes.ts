/**
 * What an assembly changed against what was there: files that came, went, or hold something else,
 * in the order of the new volume.
 */

export interface Listed {
  path: string;
  kind: 'file' | 'directory';
  bytes: number;
  /** Of its content; null of folders. */
  digest: string | null;
  type?: string;
  locked: boolean;
}

type Change = 'new' | 'other-content' | 'other-name' | 'other-marks' | 'gone';

interface ChangedFile {
  path: string;
  change: Change | null;
  /** What it was called, where that is another name. */
  was: string | null;
}

/** Every file and folder now, with what changed of each, and behind them those that are gone. */
export function changesOf(before: readonly Listed[], now: readonly Listed[]): ChangedFile[] {
  const old = new Map(before.map((each) => [each.path, each]));
  const there = new Set(now.map(({ path }) => path));
  // A file that is gone and one of the same content that came are one that was renamed.
  const gone = before.filter(({ path, digest }) => !there.has(path) && digest !== null);
  const claimed = new Set<string>();
  const changed = now.map(({ path, kind, digest, type, locked }): ChangedFile => {
    const same = old.get(path);
    if (same?.kind === kind) {
      const change =
        same.digest !== digest
          ? 'other-content'
          : same.type !== type || same.locked !== locked
            ? 'other-marks'
            : null;
      return { path, change, was: null };
    }
    const renamed =
      digest === null
        ? undefined
        : gone.find((each) => each.digest === digest && !claimed.has(each.path));
    if (renamed) claimed.add(renamed.path);
    return { path, change: renamed ? 'other-name' : 'new', was: renamed?.path ?? null };
  });
  return [
    ...changed,
    ...before
      .filter(({ path }) => !there.has(path) && !claimed.has(path))
      .map(({ path }): ChangedFile => ({ path, change: 'gone', was: null })),
  ];
}
