/** A client of WebDAV that says what it likes, and takes what comes. */
import { request } from 'node:http';

interface DavReply {
  status: number;
  headers: Record<string, string | string[] | undefined>;
  body: Buffer;
}

interface Sent {
  headers?: Record<string, string>;
  body?: string | Uint8Array;
}

/** `path` goes out as it is. Rejects where the connection breaks off. */
export function askDav(
  base: string,
  method: string,
  path: string,
  { headers = {}, body }: Sent = {},
): Promise<DavReply> {
  const { hostname, port } = new URL(base);
  return new Promise((resolve, reject) => {
    const sent = request({ hostname, port, method, path, headers, agent: false }, (reply) => {
      const parts: Buffer[] = [];
      reply.on('data', (part: Buffer) => parts.push(part));
      reply.on('error', reject);
      reply.on('end', () =>
        resolve({ status: reply.statusCode!, headers: reply.headers, body: Buffer.concat(parts) }),
      );
    });
    sent.on('error', reject);
    sent.end(body);
  });
}

interface FoundNode {
  /** As it stands in the answer. */
  href: string;
  isFolder: boolean;
  size: number | null;
  modified: string;
  tag: string | null;
}

/** What one PROPFIND tells, itself first. */
export async function findDav(base: string, path: string, depth = '1'): Promise<FoundNode[]> {
  const { status, body } = await askDav(base, 'PROPFIND', path, { headers: { depth } });
  if (status !== 207) throw new Error(`${path}: ${status} ${body.toString()}`);
  const textOf = (part: string, name: string) =>
    new RegExp(`<D:${name}>([^<]*)</D:${name}>`).exec(part)?.[1] ?? null;
  return body
    .toString()
    .split('<D:response>')
    .slice(1)
    .map((part) => {
      const size = textOf(part, 'getcontentlength');
      return {
        href: textOf(part, 'href')!,
        isFolder: part.includes('<D:collection/>'),
        size: size === null ? null : Number(size),
        modified: textOf(part, 'getlastmodified')!,
        tag: textOf(part, 'getetag'),
      };
    });
}

/** Every file below a folder, by its path in plain text from there on. */
export async function walkDav(base: string, path = '/'): Promise<Map<string, FoundNode>> {
  const files = new Map<string, FoundNode>();
  const folders = [path];
  for (const folder of folders)
    for (const node of (await findDav(base, folder)).slice(1)) {
      if (node.isFolder) folders.push(node.href);
      else files.set(decodeURIComponent(node.href.slice(path.length)), node);
    }
  return files;
}
