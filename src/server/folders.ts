/** The process that media are read from as folders: WebDAV on this computer, read-only. */
import { createServer } from 'node:http';
import { davHandler } from '@/dav/handler';
import { nameOfBlob } from './features/fixity/blob-names';
import { houseRoot } from './features/folders/house-root';
import { nameBlobsBy } from './platform/blobs/blob-damage';
import { config } from './platform/config';
import { connectDatabase } from './platform/db/database';
import { log } from './platform/log';

const CONNECTIONS = 6;
const HOST = '127.0.0.1';

nameBlobsBy(nameOfBlob);
const connection = connectDatabase(undefined, { max: CONNECTIONS });
const onError = (error: unknown) => log().error({ err: error }, 'a folder');
const root = () => Promise.resolve(houseRoot(connection.db));
const server = createServer(davHandler({ root, onError }));
server.listen(config().SPINDLE_FOLDERS_PORT, HOST, () => log().info('folders ready'));
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.on(signal, () => {
    server.closeAllConnections();
    server.close(() => void connection.close().then(() => process.exit(0)));
  });
