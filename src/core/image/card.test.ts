/** Cards follow their own schema, which is the one in the docs. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { nodeDigester } from '@/node/digester';
import { loadVector } from '../../../tests/support/vectors';
import { readContainer } from '../flux/container-reader';
import { SHIPPED_LAYOUTS } from '../layout/shipped';
import { allSectors, decodeCapture } from '../reading/decode-capture';
import { buildCard } from './card';
import { Card, cardJsonSchema } from './card-schema';
import { buildFlatImage } from './flat';

test('the schema in the docs is the one in use', () => {
  const shown = JSON.parse(
    readFileSync(join(__dirname, '../../../docs/formats/card.schema.json'), 'utf8'),
  );
  expect(shown).toEqual(JSON.parse(JSON.stringify(cardJsonSchema())));
});

test.each(['light-mfm-35-10x512', 'light-gcr62-525-16x256', 'light-mixed-8-26x256'])(
  'the card of %s is valid and says what the image does not',
  async (name) => {
    const container = readContainer(loadVector(`flux/${name}.fsflux`), nodeDigester);
    const decoded = await decodeCapture(container.header, container.tracks, {
      layouts: SHIPPED_LAYOUTS,
    });
    const sectors = allSectors(decoded);
    const image = buildFlatImage(decoded.layout!, sectors);
    const card = buildCard(decoded.layout!, image, sectors, container.problems, nodeDigester, {
      strange: decoded.strange,
    });
    expect(Card.parse(JSON.parse(JSON.stringify(card)))).toEqual(JSON.parse(JSON.stringify(card)));
    // Whatever the card calls filled in is zeros, and only that.
    const covered = new Uint8Array(image.bytes.length);
    for (const { offset, length } of card.filledIn) covered.fill(1, offset, offset + length);
    for (let i = 0; i < image.bytes.length; i++)
      if (covered[i] && image.bytes[i])
        throw new Error(`byte ${i} is said to be filled in and is ${image.bytes[i]}`);
    expect(card.filledIn.length).toBe(card.tally.doubtful + card.tally.lost + card.tally.unread);
    expect(card.sectors.find(({ grade }) => grade === 'doubtful')).toMatchObject({
      remarks: [{ kind: 'as-made' }],
      keptBytes: expect.stringMatching(/^[0-9a-f]+$/),
    });
  },
);
