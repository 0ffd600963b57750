/** What the feature layouts says: in errors, in the ledger, of work under way. */
export const layouts = {
  thisIsNoUsable: ({ problems }: { problems: string }) =>
    `This is no usable layout; nothing was added. ${problems}`,
  thereIsALayout: ({ id }: { id: string }) =>
    `There is a layout ${id} already; nothing was changed. Give this one another id.`,
  layoutAdded: ({ id, layout }: { id: string; layout: string }) => `Layout ${id} added: ${layout}.`,
  shipsWithTheApplication: ({ id }: { id: string }) =>
    `${id} ships with the application and can't be removed.`,
  isTheLayoutOf: ({ id, code }: { id: string; code: string }) =>
    `${id} is the layout of ${code} and stays, so that its copy can be understood.`,
  layout: ({ id }: { id: string }) => `layout ${id}`,
  layoutRemoved: ({ id }: { id: string }) => `Layout ${id} removed.`,
};
