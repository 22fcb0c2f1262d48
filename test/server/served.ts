import { join } from 'node:path';
import { remove, type Server, scratch, startServer } from '../harness';
import { Client } from './client';

/** A server over a workspace of its own, for the tests of one file. */
export interface Served {
  readonly folder: string;
  readonly server: Server;
  readonly client: Client;
  /** Starts the server again over the same workspace, once it has been ended. */
  restart(): Promise<void>;
}

/** Has a server started before the tests of a file and ended after them; what it gives is filled by then. */
export function served(): Served {
  const at = {
    folder: '',
    async restart() {
      at.server = await startServer(join(at.folder, 'workspace.db'));
      at.client = new Client(at.server.address);
    },
  } as { folder: string; server: Server; client: Client; restart(): Promise<void> };
  beforeAll(async () => {
    at.folder = scratch();
    await at.restart();
  });
  afterAll(async () => {
    await at.server?.kill();
    remove(at.folder);
  });
  return at;
}
