/** What is said where images are opened as folders. */
import { counted } from '../../words';

export const ofServing = {
  nameImages: 'Name the images that are to be opened as folders.',
  noPort: ({ text }: { text: string }) => `${text} is no port: it is a number up to 65535.`,
  portIsTaken: ({ port, message }: { port: number; message: string }) =>
    `Nothing can be opened on port ${port} (${message}); choose another one with --port.`,
  serves: ({ url, images }: { url: string; images: number }) =>
    `${counted(images, 'image')} to be read at ${url} (WebDAV, read-only); Ctrl-C ends it.`,
};
