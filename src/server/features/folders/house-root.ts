/** The root of all folders that are open: one a medium, in the order of their codes. */
import type { DavFolder } from '@/dav/node';
import type { Database } from '@/server/platform/db/database';
import { foldersByName } from './folders';
import { mediumFolder } from './medium-folder';

export const houseRoot = (db: Database): DavFolder => ({
  ...{ kind: 'folder', name: '', modified: new Date() },
  async members() {
    const open = await foldersByName(db);
    return new Map([...open].map(([name, medium]) => [name, mediumFolder(db, name, medium)]));
  },
});
