/** What the pages say of media that are open as folders. */
export const folders = {
  open: 'Open as a folder',
  close: 'Close the folder',
  about:
    'Any program on this computer then reads the image, its files and its sounds as a network ' +
    'folder (WebDAV); nothing is written.',
  isOpenAt: 'Open at',
  since: ({ who, at }: { who: string; at: string }) => `opened by ${who}, ${at}`,
  withItsLot: 'with its lot, and closed there',
};
