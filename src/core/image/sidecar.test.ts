/** Cards follow their own schema, which is the one in the docs. */
import { tell } from '@/messages/tell';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { nodeDigester } from '@/node/digester';
import { loadVector } from '../../../tests/support/vectors';
import { readContainer } from '../flux/container-reader';
import { SHIPPED_LAYOUTS } from '../layout/shipped';
import { allSectors, decodeCapture } from '../reading/decode/decode-capture';
import { buildSidecar } from './sidecar';
import { Sidecar, sidecarJsonSchema } from './sidecar-schema';
import { buildFlatImage } from './flat';

test('the schema in the docs is the one in use', () => {
  const shown = JSON.parse(
    readFileSync(join(__dirname, '../../../docs/formats/sidecar.schema.json'), 'utf8'),
  );
  expect(shown).toEqual(JSON.parse(JSON.stringify(sidecarJsonSchema())));
});

test.each(['light-mfm-35-10x512', 'light-gcr62-525-16x256', 'light-mixed-8-26x256'])(
  'the sidecar of %s is valid and says what the image does not',
  async (name) => {
    const container = readContainer(loadVector(`flux/${name}.fsflux`), nodeDigester);
    const decoded = await decodeCapture(container.header, container.tracks, {
      layouts: SHIPPED_LAYOUTS,
    });
    const sectors = allSectors(decoded);
    const image = buildFlatImage(decoded.layout!, sectors);
    const sidecar = buildSidecar(
      decoded.layout!,
      image,
      sectors,
      container.problems,
      nodeDigester,
      tell,
      {
        strange: decoded.strange,
      },
    );
    expect(Sidecar.parse(JSON.parse(JSON.stringify(sidecar)))).toEqual(
      JSON.parse(JSON.stringify(sidecar)),
    );
    // Whatever the sidecar calls filled in is zeros, and only that.
    const covered = new Uint8Array(image.bytes.length);
    for (const { offset, length } of sidecar.filledIn) covered.fill(1, offset, offset + length);
    for (let i = 0; i < image.bytes.length; i++)
      if (covered[i] && image.bytes[i])
        throw new Error(`byte ${i} is said to be filled in and is ${image.bytes[i]}`);
    expect(sidecar.filledIn.length).toBe(
      sidecar.tally.doubtful + sidecar.tally.lost + sidecar.tally.unread,
    );
    expect(sidecar.sectors.find(({ grade }) => grade === 'doubtful')).toMatchObject({
      remarks: [{ kind: 'as-made' }],
      keptBytes: expect.stringMatching(/^[0-9a-f]+$/),
    });
  },
);
