/** A sample as a WAV: where it is, and what a hand that drags it out of the page gets. */
export interface WavFile {
  /** Row of the file that it is. */
  file: number;
  name: string;
}

export const wavAddress = (file: number): string => `/api/files/${file}?wav`;

/** What no name of a file on any desktop may hold. */
const UNSAFE = /[\u0000-\u001f<>:"/\\|?*]/g;

/**
 * Offers the file to whatever it is dropped on: a browser that knows how fetches it and puts it
 * there, another one gives its address.
 */
export function offerFile(data: DataTransfer, { file, name }: WavFile): void {
  const address = new URL(wavAddress(file), window.location.href).href;
  data.effectAllowed = 'copy';
  data.setData('DownloadURL', `audio/wav:${name.replace(UNSAFE, '_')}.wav:${address}`);
  data.setData('text/uri-list', address);
}
