/**
 * Interleaved bitmaps (EA IFF 85, FORM ILBM): header, colour map, rows of bit planes, packed by
 * byte runs.
 */
import { canvas, setPixel, type Colour, type Picture } from './canvas';

const HALF_BRIGHT = 0x80;
const HOLD_AND_MODIFY = 0x800;
/** Planes of red, then of green, then of blue. */
const TRUE_COLOUR = 24;

const tag = (bytes: Uint8Array, at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));

export function interleavedBitmap(bytes: Uint8Array): Picture | null {
  if (bytes.length < 40 || tag(bytes, 0) !== 'FORM' || tag(bytes, 8) !== 'ILBM') return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let picture: Picture | null = null;
  let [planes, masking, packed, mode] = [0, 0, 0, 0];
  let colours: Colour[] = [];
  for (let at = 12; at + 8 <= bytes.length;) {
    const [name, length] = [tag(bytes, at), view.getUint32(at + 4)];
    const body = bytes.subarray(at + 8, at + 8 + length);
    if (name === 'BMHD' && body.length >= 20) {
      picture = canvas('interleaved bitmap', view.getUint16(at + 8), view.getUint16(at + 10));
      [planes, masking, packed] = [body[8]!, body[9]!, body[10]!];
      if (picture && body[14]! > 0 && body[15]! > 0)
        picture.pixelAspect = Math.min(4, Math.max(0.25, body[14]! / body[15]!));
    } else if (name === 'CMAP') {
      colours = Array.from(
        { length: Math.min(256, Math.floor(body.length / 3)) },
        (_, i) => [body[3 * i]!, body[3 * i + 1]!, body[3 * i + 2]!] as const,
      );
    } else if (name === 'CAMG' && body.length >= 4) {
      mode = view.getUint32(at + 8);
    } else if (name === 'BODY') {
      if (!picture || !((planes >= 1 && planes <= 8) || planes === TRUE_COLOUR) || packed > 1)
        return null;
      draw(picture, body, {
        planes,
        mask: masking === 1,
        packed: packed === 1,
        colours: allColours(colours, planes, mode),
        hold: (mode & HOLD_AND_MODIFY) !== 0 && (planes === 5 || planes === 6),
      });
      return picture;
    }
    at += 8 + length + (length & 1);
  }
  return null;
}

/** Without a map, greys; with the half-bright mode, every colour once more at half its light. */
function allColours(colours: Colour[], planes: number, mode: number): Colour[] {
  const count = 1 << Math.min(planes, 8);
  if (colours.length === 0)
    return Array.from({ length: count }, (_, i) => {
      const grey = Math.round((255 * i) / (count - 1));
      return [grey, grey, grey] as const;
    });
  if ((mode & HALF_BRIGHT) === 0 || planes !== 6) return colours;
  return [
    ...colours.slice(0, 32),
    ...colours.slice(0, 32).map(([red, green, blue]) => [red >> 1, green >> 1, blue >> 1] as const),
  ];
}

function draw(
  picture: Picture,
  body: Uint8Array,
  {
    planes,
    mask,
    packed,
    colours,
    hold,
  }: { planes: number; mask: boolean; packed: boolean; colours: readonly Colour[]; hold: boolean },
): void {
  const stride = Math.ceil(picture.width / 16) * 2;
  const rows = planes + (mask ? 1 : 0);
  const row = new Uint8Array(stride * rows);
  let at = 0;
  for (let y = 0; y < picture.height; y++) {
    // Runs never cross from one plane's row to the next.
    for (let plane = 0; plane < rows; plane++) {
      const end = (plane + 1) * stride;
      for (let i = plane * stride; i < end;) {
        if (at >= body.length) {
          picture.cut = true;
          return;
        }
        if (!packed) {
          row[i++] = body[at++]!;
          continue;
        }
        const code = body[at++]!;
        if (code < 128) for (let n = 0; n <= code && i < end; n++) row[i++] = body[at++] ?? 0;
        else if (code > 128)
          for (let n = 0, value = body[at++] ?? 0; n < 257 - code && i < end; n++) row[i++] = value;
      }
    }
    let held: Colour = colours[0] ?? [0, 0, 0];
    for (let x = 0; x < picture.width; x++) {
      let index = 0;
      for (let plane = 0; plane < planes; plane++)
        index |= ((row[plane * stride + (x >> 3)]! >> (7 - (x & 7))) & 1) << plane;
      if (planes === TRUE_COLOUR)
        setPixel(picture, x, y, [index & 255, (index >> 8) & 255, index >> 16]);
      else if (hold) {
        const [what, value] = [index >> 4, (index & 15) * 17];
        held =
          what === 0
            ? (colours[index] ?? held)
            : what === 1
              ? [held[0], held[1], value]
              : what === 2
                ? [value, held[1], held[2]]
                : [held[0], value, held[2]];
        setPixel(picture, x, y, held);
      } else setPixel(picture, x, y, colours[index] ?? [0, 0, 0]);
    }
  }
}
