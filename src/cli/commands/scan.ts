/** `spindle scan`: images held against signature rules; and strings and bytes looked for in one. */
import { parseArgs } from 'node:util';
import { Matcher } from '@/core/scan/matcher';
import { SignatureRules, searchPattern } from '@/core/scan/rules';
import { scanImage } from '@/core/scan/scan-image';
import { stringsOf } from '@/core/scan/strings';
import { jsonText, readJson, writeOut } from '../files';
import { openImage } from '../open-image';
import { filesOf, shown } from '../paths';
import { EXIT, JobError, UsageError } from '../usage';

const MAX_STRINGS = 100_000;
const place = (offset: number) => `${offset.toString(16).toUpperCase()}h`;

async function rulesFrom(path: string) {
  const parsed = SignatureRules.safeParse(await readJson(path));
  if (!parsed.success)
    throw new JobError(
      `${path} holds no usable rules:\n${parsed.error.issues
        .slice(0, 20)
        .map(({ path: at, message }) => `  ${at.join('.') || 'the file'}: ${message}`)
        .join('\n')}`,
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
  if (positionals.length === 0) throw new UsageError('scan takes images or folders');
  if (values.strings !== undefined || values.find !== undefined)
    return lookInto(positionals, values);
  if (!values.rules) throw new UsageError('scan needs --rules FILE, --strings or --find');
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
  process.stderr.write(
    `${found} ${found === 1 ? 'finding' : 'findings'} in ${all.length} ` +
      `${all.length === 1 ? 'image' : 'images'}\n`,
  );
  if (found > 0) process.exitCode = EXIT.found;
}

type Scanned = Awaited<ReturnType<typeof scanImage>>;

const findingLine =
  (image: string) =>
  ({ name, note, path, offset }: Scanned['findings'][number]): string => {
    const where = `${place(offset)}${path ? ` of ${shown(path)}` : ''}`;
    return `${shown(image)}: ${shown(name)} at ${where}${note ? ` (${shown(note)})` : ''}\n`;
  };

const moreLine =
  (image: string) =>
  ({ rule, count }: Scanned['more'][number]): string =>
    `${shown(image)}: ${rule} stands ${count} times; the first thousand are listed\n`;

async function lookInto(
  [path, ...more]: string[],
  { strings, find, json }: { strings?: string; find?: string; json?: string },
): Promise<void> {
  if (more.length > 0) throw new UsageError('--strings and --find take one image');
  const source = await openImage(path!);
  try {
    if (strings !== undefined) {
      const least = Number(strings);
      if (!Number.isInteger(least) || least < 2 || least > 4096)
        throw new UsageError('--strings takes the least length, from 2 to 4096');
      const result = await stringsOf(source, least, MAX_STRINGS);
      if (json) return await writeOut(json, jsonText(result));
      for (const { offset, text } of result.strings)
        process.stdout.write(`${place(offset).padStart(9)}  ${text}\n`);
      if (result.more) process.stderr.write(`only the first ${MAX_STRINGS} are listed\n`);
      return;
    }
    const pattern = searchPattern(find!);
    if (!pattern || pattern.length < 2)
      throw new UsageError(
        '--find takes "a text" in quotes, or at least two bytes in hexadecimal, ?? for any',
      );
    const result = await new Matcher([pattern]).search(source);
    if (json)
      return await writeOut(
        json,
        `${JSON.stringify(result.matches.map(({ offset }) => offset))}\n`,
      );
    for (const { offset } of result.matches) process.stdout.write(`${place(offset)}\n`);
    for (const { count } of result.more)
      process.stderr.write(`it stands ${count} times; the first thousand are listed\n`);
  } finally {
    await source.close();
  }
}
