/** `spindle`: the core without a browser, a server or a database. */
import { said } from '@/core/said';
import { tell } from '@/messages/tell';
import { EXIT, JobError, UsageError } from './usage';

const USAGE = tell(said('commands.usage'));

const COMMANDS: Record<string, () => Promise<(args: string[]) => Promise<void>>> = {
  decode: async () => (await import('./commands/decode')).decodeCommand,
  contents: async () => (await import('./commands/contents')).contentsCommand,
  encode: async () => (await import('./commands/encode')).encodeCommand,
  convert: async () => (await import('./commands/convert')).convertCommand,
  compare: async () => (await import('./commands/compare')).compareCommand,
  identify: async () => (await import('./commands/identify')).identifyCommand,
  index: async () => (await import('./commands/index-command')).indexCommand,
  scan: async () => (await import('./commands/scan')).scanCommand,
  sound: async () => (await import('./commands/sound')).soundCommand,
  disc: async () => (await import('./commands/disc')).discCommand,
  pack: async () => (await import('./commands/pack')).packCommand,
  unpack: async () => (await import('./commands/pack')).unpackCommand,
  extents: async () => (await import('./commands/extents')).extentsCommand,
  serve: async () => (await import('./commands/serve')).serveCommand,
  layouts: async () => (await import('./commands/layouts')).layoutsCommand,
};

async function main([name, ...args]: string[]): Promise<number> {
  if (name === undefined || name === '--help' || name === 'help') {
    (name === undefined ? process.stderr : process.stdout).write(USAGE);
    return name === undefined ? EXIT.usage : EXIT.done;
  }
  try {
    const command = COMMANDS[name];
    if (!command) throw new UsageError(said('commands.thereIsNoCommand', { name }));
    await (
      await command()
    )(args);
    return EXIT.done;
  } catch (error) {
    const wrongUsage =
      error instanceof UsageError ||
      (error as NodeJS.ErrnoException).code?.startsWith('ERR_PARSE_ARGS');
    if (wrongUsage) {
      process.stderr.write(`spindle: ${(error as Error).message}\n${USAGE}`);
      return EXIT.usage;
    }
    const { message } = error instanceof Error ? error : new Error(String(error));
    const isForeseen = error instanceof JobError;
    const what = isForeseen ? message : tell(said('commands.unexpected', { what: message }));
    process.stderr.write(`spindle: ${what}\n`);
    return EXIT.failed;
  }
}

// Who reads the output may stop at any line; what else was asked for is written all the same.
for (const stream of [process.stdout, process.stderr])
  stream.on('error', (error: NodeJS.ErrnoException) => {
    if (error.code !== 'EPIPE') throw error;
  });

process.exitCode = await main(process.argv.slice(2));
