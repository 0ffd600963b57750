/** An image of the holdings, as searching for it answers. */
export const FOUND_IMAGE = {
  id: 12,
  code: 'TST-0001',
  title: 'Dues',
  bytes: 174_848,
  layout: null,
  volumes: [],
};
