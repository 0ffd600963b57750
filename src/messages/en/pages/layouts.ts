/** What the pages of layouts say. */
export const layouts = {
  isNoJsonNothing: ({ name }: { name: string }) =>
    `${name} is no JSON. Nothing was added; export a layout from here to see how one is written.`,
  howSectorsLieOn:
    "How sectors lie on a kind of disk. Captures are held against all of them; drop a layout's JSON here to add one",
  layoutsShipAddedHere: ({ layouts, own }: { layouts: number; own: number }) =>
    `${layouts} layouts ship, ${own === 0 ? 'none was' : `${own === 1 ? 'one was' : `${own} were`}`} added here`,
  addALayoutFrom: 'Add a layout from a file',
  addedCapturesAreHeld: 'added: captures are held against it from now on.',
  layout: 'Layout',
  disk: 'Disk',
  whatLiesOnIt: 'What lies on it',
  sectors: 'Sectors',
  bytes: 'Bytes',
  images: 'Images',
  remove: 'Remove',
  exportWord: 'Export',
};
