import { join } from 'node:path';
import { remove, type Server, scratch, startServer } from '../harness';
import { Client } from './client';

/** A server over a workspace of its own, for the tests of one file. */
export interface Served {
  readonly folder: string;
  readonly server: Server;
  readonly client: Client;
}

/** Has a server started before the tests of a file and ended after them; what it gives is filled by then. */
export function served(): Served {
  const at = { folder: '' } as { folder: string; server: Server; client: Client };
  beforeAll(async () => {
    at.folder = scratch();
    at.server = await startServer(join(at.folder, 'workspace.db'));
    at.client = new Client(at.server.address);
  });
  afterAll(async () => {
    await at.server?.kill();
    remove(at.folder);
  });
  return at;
}
