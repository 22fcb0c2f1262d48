import { existsSync } from 'node:fs';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join, resolve } from 'node:path';
import next from 'next';
import { projectRoot } from '@/server/db/open';
import { atTheDoor } from '@/server/http/door';
import { claimWorkspace } from '@/server/workspace';

/** Room for an address that names 2000 hits. */
const MOST_HEADER_BYTES = 128 * 1024;

export interface ServeOptions {
  readonly port: number;
  readonly workspace?: string;
}

type Handle = (request: IncomingMessage, response: ServerResponse) => Promise<void>;

/** Runs the built application on 127.0.0.1 and prints its address once it answers. */
export async function runServe(options: ServeOptions): Promise<void> {
  if (!existsSync(join(projectRoot(), '.next', 'BUILD_ID')))
    throw new Error('The application is not built yet: run "npm run build" (or "npm run demo") first.');
  if (options.workspace) process.env.UNDERCROFT_WORKSPACE = resolve(options.workspace);
  process.env.NEXT_TELEMETRY_DISABLED = '1';
  const lock = claimWorkspace();
  // A request may arrive as soon as the port is open: it waits until the application is ready.
  let prepared: (handle: Handle) => void = () => {};
  const handler = new Promise<Handle>((resolveHandler) => {
    prepared = resolveHandler;
  });
  const server = createServer({ maxHeaderSize: MOST_HEADER_BYTES }, (request, response) => {
    if (atTheDoor(request, response)) void handler.then((handle) => handle(request, response));
  });
  await new Promise<void>((done, failed) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      failed(
        error.code === 'EADDRINUSE'
          ? new Error(`Port ${options.port} is taken; choose another with --port, or --port 0 for any free one.`)
          : error,
      );
    });
    server.listen(options.port, '127.0.0.1', done);
  });
  const { port } = server.address() as AddressInfo;
  lock.tell(port);
  const application = next({ dev: false, dir: projectRoot(), hostname: '127.0.0.1', port });
  await application.prepare();
  // Uploads are streamed, and may take as long as they need.
  server.requestTimeout = 0;
  prepared(application.getRequestHandler());
  process.stdout.write(`Undercroft is open at http://127.0.0.1:${port}\n`);
}
