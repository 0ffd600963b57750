import { usage } from './usage';

/** What every command may say: of files, folders and how it was called. */
export const commands = {
  usage,
  thereIsNoCommand: ({ name }: { name: string }) => `there is no command ${name}`,
  unexpected: ({ what }: { what: string }) => `unexpected: ${what}`,
  takesOneImage: ({ command }: { command: string }) => `${command} takes one image`,
  takesFilesOrFolders: ({ command }: { command: string }) => `${command} takes files or folders`,
  isNoNumber: ({ text }: { text: string }) => `${text} is no number`,
  isAtFault: ({ path, what }: { path: string; what: string }) => `${path}: ${what}.`,
  wasLeft: ({ path, what }: { path: string; what: string }) => `${path} was left: ${what}`,
  cantBeRead: ({ path, why }: { path: string; why: string }) => `${path} can't be read (${why}).`,
  cantBeWritten: ({ path, why }: { path: string; why: string }) =>
    `${path} can't be written (${why}).`,
  existsAlready: ({ path }: { path: string }) => `${path} exists already; it was not touched.`,
  isNotThere: ({ path }: { path: string }) => `${path} is not there.`,
  theFile: 'the file',
  isNoJson: ({ path }: { path: string }) => `${path} is no JSON.`,
  isNoFile: ({ path }: { path: string }) => `${path} is no file.`,
  isNoFileAndNoFolder: ({ path }: { path: string }) => `${path} is no file and no folder.`,
  moreFilesThan: ({ most }: { most: number }) =>
    `More than ${most} files; name fewer folders at once.`,
};
