/**
 * Cards for devices that stand in for a drive: many images under the names that the device can
 * show, a settings file
 * from the archivist's own template, a list to print; and what a card that comes back has changed.
 */

export interface CardProfile {
  id: string;
  title: string;
  /** Characters of a name without its ending. */
  mostName: number;
  /** A character that may stand in a name. */
  allowed: RegExp;
  capitals: boolean;
  /** Images in one folder; null where all lie in one. */
  perFolder: number | null;
  mostImages: number;
}

export const CARD_PROFILES: readonly CardProfile[] = Object.freeze([
  {
    id: 'short',
    title: 'Names of 8 and 3, one folder',
    mostName: 8,
    allowed: /[A-Z0-9_-]/,
    capitals: true,
    perFolder: null,
    mostImages: 999,
  },
  {
    id: 'short-hundreds',
    title: 'Names of 8 and 3, a hundred to a folder',
    mostName: 8,
    allowed: /[A-Z0-9_-]/,
    capitals: true,
    perFolder: 100,
    mostImages: 9999,
  },
  {
    id: 'long',
    title: 'Long names, one folder',
    mostName: 48,
    allowed: /[A-Za-z0-9 ._()-]/,
    capitals: false,
    perFolder: null,
    mostImages: 9999,
  },
]);

interface CardImage {
  code: string;
  title: string;
  ending: string;
}

interface CardName {
  number: number;
  /** On the card, forward slashes. */
  path: string;
}

const plain = (text: string) =>
  text
    .normalize('NFD')
    .replace(/\p{M}+/gu, '')
    .replaceAll('ß', 'ss')
    .replaceAll('–', '-');

/** Numbered from 1 in their order; the number makes each name one of its own. */
export function cardNames(
  { mostName, allowed, capitals, perFolder }: CardProfile,
  images: readonly CardImage[],
): CardName[] {
  const digits = Math.max(3, String(images.length).length);
  return images.map(({ title, ending }, i) => {
    const number = i + 1;
    const head = String(number).padStart(digits, '0') + (capitals ? '' : ' ');
    const letters = [...(capitals ? plain(title).toUpperCase() : plain(title))]
      .filter((char) => allowed.test(char))
      .join('');
    const name = (head + letters)
      .slice(0, mostName)
      .trimEnd()
      .replace(/[. ]+$/, '');
    const file = `${name}.${capitals ? ending.toUpperCase().slice(0, 3) : ending}`;
    return {
      number,
      path:
        perFolder === null ? file : `${String(Math.floor(i / perFolder)).padStart(2, '0')}/${file}`,
    };
  });
}

export interface CardEntry extends CardName {
  code: string;
  title: string;
  bytes: number;
}

const CARD_FIELDS = ['card.title', 'card.count'] as const;
const IMAGE_FIELDS = [
  'image.number',
  'image.path',
  'image.name',
  'image.code',
  'image.title',
  'image.bytes',
] as const;
export const TEMPLATE_FIELDS: readonly string[] = Object.freeze([...CARD_FIELDS, ...IMAGE_FIELDS]);

/** Placeholders of a template that mean nothing here. */
export function unknownFields(template: string): string[] {
  return [
    ...new Set([...template.matchAll(/\{((?:card|image)\.[\w.]*)\}/g)].map(([, field]) => field!)),
  ].filter((field) => !TEMPLATE_FIELDS.includes(field));
}

const ofImage = ({ number, path, code, title, bytes }: CardEntry): Record<string, string> => ({
  'image.number': String(number),
  'image.path': path,
  'image.name': path.split('/').pop()!,
  'image.code': code,
  'image.title': title,
  'image.bytes': String(bytes),
});

/**
 * Fills a template: a line that speaks of an image stands once for each of them, every other line
 * as it is.
 */
export function fillTemplate(
  template: string,
  title: string,
  images: readonly CardEntry[],
): string {
  const ofCard: Record<string, string> = {
    'card.title': title,
    'card.count': String(images.length),
  };
  const fill = (line: string, values: Record<string, string>) =>
    line.replace(/\{((?:card|image)\.[\w.]*)\}/g, (whole, field: string) => values[field] ?? whole);
  return template
    .split('\n')
    .flatMap((line) =>
      line.includes('{image.')
        ? images.map((image) => fill(line, { ...ofCard, ...ofImage(image) }))
        : [fill(line, ofCard)],
    )
    .join('\n');
}

/** What is on the card, to be printed and laid beside it. */
export function contentsList(title: string, images: readonly CardEntry[]): string {
  const width = Math.max(4, ...images.map(({ path }) => path.length));
  return [
    title,
    '',
    ...images.map(
      ({ number, path, code, title: own, bytes }) =>
        `${String(number).padStart(4)}  ${path.padEnd(width)}  ${code.padEnd(10)}  ` +
        `${String(bytes).padStart(9)}  ${own}`,
    ),
    '',
  ].join('\r\n');
}

interface CardFile {
  path: string;
  bytes: number;
  sha256: string;
}
export type CardChange = 'same' | 'changed' | 'missing' | 'new';

/**
 * A card that came back against what was put on it; names are compared without regard to case, as
 * cards are.
 */
export function compareCard(
  made: readonly CardFile[],
  came: readonly CardFile[],
): (CardFile & { change: CardChange })[] {
  const key = (path: string) => path.toLowerCase();
  const back = new Map(came.map((file) => [key(file.path), file]));
  const known = new Set(made.map(({ path }) => key(path)));
  return [
    ...made.map((file) => {
      const now = back.get(key(file.path));
      return now
        ? {
            ...now,
            path: file.path,
            change: now.sha256 === file.sha256 ? ('same' as const) : ('changed' as const),
          }
        : { ...file, change: 'missing' as const };
    }),
    ...came
      .filter(({ path }) => !known.has(key(path)))
      .map((file) => ({ ...file, change: 'new' as const })),
  ];
}
