/** `spindle encode`: an image to the flux that a perfect drive would read of it. */
import { said } from '@/core/said';
import { parseArgs } from 'node:util';
import { ContainerWriter } from '@/core/flux/container';
import { perfectReading } from '@/core/flux/synthesis';
import { encodeImage } from '@/core/image/encode-image';
import { bytesOf, type Layout } from '@/core/layout/layout';
import { nodeDigester } from '@/node/digester';
import { layoutFrom } from '../captures';
import { writeNew } from '../files';
import { openImage } from '../images';
import { JobError, tellLine, UsageError } from '../usage';

const DEFAULT_TICK_HZ = 24_000_000;

/** The capture of a layout's image, piece by piece. */
export function* captureOf(
  layout: Layout,
  image: Uint8Array,
  { revolutions, tickHz, label }: { revolutions: number; tickHz: number; label?: string },
): Generator<Uint8Array> {
  const writer = new ContainerWriter(nodeDigester);
  const { rpm, cylinders, heads, id } = layout;
  const step = layout.stepping === 'double' ? 2 : 1;
  yield writer.header({
    tickHz,
    form: layout.forms[0]!,
    rpm,
    cylinders: cylinders * step,
    heads,
    layout: id,
    ...(label && { label }),
  });
  for (const { cylinder, head, turn } of encodeImage(layout, image)) {
    yield writer.reading(
      perfectReading(
        turn,
        { cylinder: cylinder * step, head, pass: 0 },
        (tickHz * 60) / rpm,
        revolutions,
      ),
    );
  }
  yield writer.trailer();
}

export async function encodeCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      layout: { type: 'string' },
      out: { type: 'string' },
      revolutions: { type: 'string' },
      as: { type: 'string' },
    },
  });
  const [path, ...more] = positionals;
  if (!path || more.length > 0)
    throw new UsageError(said('commands.takesOneImage', { command: 'encode' }));
  if (!values.layout || !values.out) throw new UsageError(said('ofCaptures.encodeNeeds'));
  const revolutions = Number(values.revolutions ?? 2);
  if (!Number.isInteger(revolutions) || revolutions < 1 || revolutions > 20)
    throw new UsageError(said('ofCaptures.revolutionsTakes'));
  const layout = await layoutFrom(values.layout);
  const image = await openImage(path, { layout, as: values.as });
  const wanted = bytesOf(layout);
  if (image.bytes.length !== wanted)
    throw new JobError(
      said('ofCaptures.hasOtherBytes', {
        path,
        bytes: image.bytes.length,
        layout: layout.id,
        wanted,
      }),
    );
  await writeNew(
    values.out,
    captureOf(layout, image.bytes, { revolutions, tickHz: DEFAULT_TICK_HZ }),
  );
  tellLine(
    said('ofCaptures.wasEncoded', {
      path: values.out,
      layout: layout.id,
      tracks: layout.cylinders * layout.heads,
      turns: revolutions,
    }),
  );
}
