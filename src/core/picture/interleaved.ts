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

interface Chunk {
  name: string;
  /** What of it is there. */
  body: Uint8Array;
}

/** The chunks of a form, each padded to an even length (IFF 85). */
function* chunksOf(bytes: Uint8Array): Generator<Chunk> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 12; at + 8 <= bytes.length;) {
    const length = view.getUint32(at + 4);
    yield { name: tag(bytes, at), body: bytes.subarray(at + 8, at + 8 + length) };
    at += 8 + length + (length & 1);
  }
}

const viewOf = ({ buffer, byteOffset, byteLength }: Uint8Array) =>
  new DataView(buffer, byteOffset, byteLength);

interface Planes {
  picture: Picture | null;
  planes: number;
  mask: boolean;
  packing: number;
}

function planesOf(body: Uint8Array): Planes {
  const view = viewOf(body);
  const picture = canvas('interleaved bitmap', view.getUint16(0), view.getUint16(2));
  if (picture && body[14]! > 0 && body[15]! > 0)
    picture.pixelAspect = Math.min(4, Math.max(0.25, body[14]! / body[15]!));
  return { picture, planes: body[8]!, mask: body[9] === 1, packing: body[10]! };
}

const coloursIn = (body: Uint8Array): Colour[] =>
  Array.from(
    { length: Math.min(256, Math.floor(body.length / 3)) },
    (_, i) => [body[3 * i]!, body[3 * i + 1]!, body[3 * i + 2]!] as const,
  );

export function interleavedBitmap(bytes: Uint8Array): Picture | null {
  if (bytes.length < 40 || tag(bytes, 0) !== 'FORM' || tag(bytes, 8) !== 'ILBM') return null;
  let about: Planes | null = null;
  let mode = 0;
  let colours: Colour[] = [];
  for (const { name, body } of chunksOf(bytes)) {
    if (name === 'BMHD' && body.length >= 20) about = planesOf(body);
    else if (name === 'CMAP') colours = coloursIn(body);
    else if (name === 'CAMG' && body.length >= 4) mode = viewOf(body).getUint32(0);
    else if (name === 'BODY') return about && drawn(about, body, colours, mode);
  }
  return null;
}

function drawn(
  { picture, planes, mask, packing }: Planes,
  body: Uint8Array,
  colours: readonly Colour[],
  mode: number,
): Picture | null {
  const isKnown = (planes >= 1 && planes <= 8) || planes === TRUE_COLOUR;
  if (!picture || !isKnown || packing > 1) return null;
  draw(picture, body, {
    planes,
    mask,
    packed: packing === 1,
    colours: allColours([...colours], planes, mode),
    hold: (mode & HOLD_AND_MODIFY) !== 0 && (planes === 5 || planes === 6),
  });
  return picture;
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

interface Drawing {
  planes: number;
  mask: boolean;
  packed: boolean;
  colours: readonly Colour[];
  hold: boolean;
}

/** Bytes of the planes' rows, one behind the other; runs never cross from one to the next. */
class RowReader {
  private at = 0;

  constructor(
    private readonly body: Uint8Array,
    private readonly packed: boolean,
  ) {}

  /** Fills a plane's row; false where the bytes end before it. */
  fill(row: Uint8Array): boolean {
    for (let i = 0; i < row.length;) {
      if (this.at >= this.body.length) return false;
      i = this.packed ? this.unpack(row, i) : this.copy(row, i);
    }
    return true;
  }

  private copy(row: Uint8Array, i: number): number {
    row[i] = this.body[this.at++]!;
    return i + 1;
  }

  /** One run of bytes as they are, or of one byte many times. */
  private unpack(row: Uint8Array, from: number): number {
    const code = this.body[this.at++]!;
    if (code === 128) return from;
    const end = Math.min(row.length, from + (code < 128 ? code + 1 : 257 - code));
    if (code > 128) {
      row.fill(this.body[this.at++] ?? 0, from, end);
      return end;
    }
    for (let i = from; i < end; i++) row[i] = this.body[this.at++] ?? 0;
    return end;
  }
}

/** Hold and modify: a colour of the table, or the one before with one part of it changed. */
function heldAfter(held: Colour, index: number, colours: readonly Colour[]): Colour {
  const value = (index & 15) * 17;
  switch (index >> 4) {
    case 0:
      return colours[index] ?? held;
    case 1:
      return [held[0], held[1], value];
    case 2:
      return [value, held[1], held[2]];
    default:
      return [held[0], value, held[2]];
  }
}

function draw(
  picture: Picture,
  body: Uint8Array,
  { planes, mask, packed, colours, hold }: Drawing,
): void {
  const stride = Math.ceil(picture.width / 16) * 2;
  const rows = planes + (mask ? 1 : 0);
  const row = new Uint8Array(stride * rows);
  const reader = new RowReader(body, packed);
  const indexAt = (x: number) => {
    let index = 0;
    for (let plane = 0; plane < planes; plane++)
      index |= ((row[plane * stride + (x >> 3)]! >> (7 - (x & 7))) & 1) << plane;
    return index;
  };
  for (let y = 0; y < picture.height; y++) {
    for (let plane = 0; plane < rows && !picture.cut; plane++)
      picture.cut = !reader.fill(row.subarray(plane * stride, (plane + 1) * stride));
    if (picture.cut) return;
    let held: Colour = colours[0] ?? [0, 0, 0];
    for (let x = 0; x < picture.width; x++) {
      const index = indexAt(x);
      if (planes === TRUE_COLOUR) held = [index & 255, (index >> 8) & 255, index >> 16];
      else held = hold ? heldAfter(held, index, colours) : (colours[index] ?? [0, 0, 0]);
      setPixel(picture, x, y, held);
    }
  }
}
