/** What is said of media that are open as folders. */
import { capital } from '../../words';

export const folders = {
  opened: ({ name }: { name: string }) =>
    `${capital(name)} opened as a folder: programs on this computer read what is on it.`,
  closed: ({ name }: { name: string }) => `${capital(name)} closed as a folder.`,
};
