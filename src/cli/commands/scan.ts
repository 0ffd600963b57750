/** `spindle scan`: images held against signature rules; and strings and bytes looked for in one. */
import { said } from '@/core/said';
import { tell } from '@/messages/tell';
import { parseArgs } from 'node:util';
import { Matcher } from '@/core/scan/matcher';
import { SignatureRules, searchPattern } from '@/core/scan/rules';
import { scanImage } from '@/core/scan/scan-image';
import { stringsOf } from '@/core/scan/strings';
import { issueWords } from '../issues';
import { jsonText, readJson, writeOut } from '../files';
import { openImage } from '../open-image';
import { filesOf, shown } from '../paths';
import { EXIT, JobError, tellLine, UsageError } from '../usage';

const MAX_STRINGS = 100_000;
const place = (offset: number) => `${offset.toString(16).toUpperCase()}h`;

/** Faults of a file of rules that are named. */
const MAX_ISSUES = 20;

async function rulesFrom(path: string) {
  const parsed = SignatureRules.safeParse(await readJson(path));
  if (!parsed.success)
    throw new JobError(
      said('ofImages.holdsNoRules', {
        path,
        problems: parsed.error.issues.slice(0, MAX_ISSUES).map(issueWords),
      }),
    );
  return parsed.data;
}

export async function scanCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      rules: { type: 'string' },
      json: { type: 'string' },
      strings: { type: 'string' },
      find: { type: 'string' },
    },
  });
  if (positionals.length === 0) throw new UsageError(said('ofImages.scanTakes'));
  if (values.strings !== undefined || values.find !== undefined)
    return lookInto(positionals, values);
  if (!values.rules) throw new UsageError(said('ofImages.scanNeeds'));
  const rules = await rulesFrom(values.rules);
  const all = [];
  for (const path of await filesOf(positionals)) {
    const source = await openImage(path);
    try {
      all.push({ image: path, ...(await scanImage(source, rules)) });
    } finally {
      await source.close();
    }
  }
  if (values.json) await writeOut(values.json, jsonText(all));
  for (const each of all) {
    if (values.json !== '-')
      process.stdout.write(each.findings.map(findingLine(each.image)).join(''));
    process.stderr.write(each.more.map(moreLine(each.image)).join(''));
  }
  const found = all.reduce((sum, { findings }) => sum + findings.length, 0);
  tellLine(said('ofImages.findings', { found, images: all.length }));
  if (found > 0) process.exitCode = EXIT.found;
}

type Scanned = Awaited<ReturnType<typeof scanImage>>;

const findingLine =
  (image: string) =>
  ({ name, note, path, offset }: Scanned['findings'][number]): string => {
    const at = place(offset);
    const where = path ? said('ofImages.placeOf', { place: at, file: shown(path) }) : at;
    const found = { path: shown(image), name: shown(name), place: where };
    return `${tell(said('ofImages.foundAt', found))}${note ? ` (${shown(note)})` : ''}\n`;
  };

const moreLine =
  (image: string) =>
  ({ rule, count }: Scanned['more'][number]): string =>
    `${tell(said('ofImages.standsOften', { path: shown(image), rule, count }))}\n`;

async function lookInto(
  [path, ...more]: string[],
  { strings, find, json }: { strings?: string; find?: string; json?: string },
): Promise<void> {
  if (more.length > 0) throw new UsageError(said('ofImages.searchTakesOne'));
  const source = await openImage(path!);
  try {
    if (strings !== undefined) {
      const least = Number(strings);
      if (!Number.isInteger(least) || least < 2 || least > 4096)
        throw new UsageError(said('ofImages.stringsTakes'));
      const result = await stringsOf(source, least, MAX_STRINGS);
      if (json) return await writeOut(json, jsonText(result));
      for (const { offset, text } of result.strings)
        process.stdout.write(`${place(offset).padStart(9)}  ${text}\n`);
      if (result.more) tellLine(said('ofImages.onlyTheFirst', { most: MAX_STRINGS }));
      return;
    }
    const pattern = searchPattern(find!);
    if (!pattern || pattern.length < 2) throw new UsageError(said('ofImages.findTakes'));
    const result = await new Matcher([pattern]).search(source);
    if (json)
      return await writeOut(
        json,
        `${JSON.stringify(result.matches.map(({ offset }) => offset))}\n`,
      );
    for (const { offset } of result.matches) process.stdout.write(`${place(offset)}\n`);
    for (const { count } of result.more) tellLine(said('ofImages.itStandsOften', { count }));
  } finally {
    await source.close();
  }
}
