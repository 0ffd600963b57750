/** What a file is told to be, by its ending; what a browser would run is told as bytes. */
const TYPES: Readonly<Record<string, string>> = Object.freeze({
  txt: 'text/plain; charset=utf-8',
  csv: 'text/csv; charset=utf-8',
  json: 'application/json',
  cue: 'text/plain; charset=utf-8',
  wav: 'audio/wav',
  png: 'image/png',
  jpg: 'image/jpeg',
  gif: 'image/gif',
  pdf: 'application/pdf',
});

/** Of a file that was made here, and whose ending is right. */
export function typeOfOwn(name: string): string {
  const ending = name.slice(name.lastIndexOf('.') + 1).toLowerCase();
  return TYPES[ending] ?? 'application/octet-stream';
}
