import { Agent, request } from 'node:http';
import { json, text } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';
import type { DocName } from '../../src/contract/documents';
import type { Change, EditAnswer } from '../../src/contract/edits';
import type { CutView, ErrorAnswer, ImportAnswer, RecordingView } from '../../src/contract/views';
import { soon } from '../harness';

export interface Answer {
  readonly status: number;
  readonly body: unknown;
}

/** Talks to a running server as a browser would, or - with headers of its own choosing - as none should. */
export class Client {
  private readonly revs = new Map<string, number>();

  constructor(
    readonly address: string,
    readonly browser = 'test-browser-0001',
  ) {}

  /** A request with any headers, `Host` included; the body may be sent in pieces. */
  ask(
    method: string,
    path: string,
    headers: Record<string, string> = {},
    pieces: readonly (string | Uint8Array)[] = [],
  ): Promise<Answer> {
    return new Promise((resolve, reject) => {
      const sent = request(`${this.address}${path}`, { method, headers, agent: false }, (response) => {
        // An answer that breaks off in the middle, as when the server is killed, rejects too.
        const isJson = /json/.test(response.headers['content-type'] ?? '');
        const body: Promise<unknown> = isJson ? json(response) : text(response);
        body.then((read) => resolve({ status: response.statusCode ?? 0, body: read }), reject);
      });
      sent.on('error', reject);
      for (const piece of pieces) sent.write(piece);
      sent.end();
    });
  }

  /** Begins to send a body of a length, sends nothing of it, and gives what the server says to that. */
  announce(path: string, bytes: number): Promise<Answer> {
    return new Promise((resolve, reject) => {
      const headers = { 'Content-Length': String(bytes) };
      const sent = request(`${this.address}${path}`, { method: 'POST', headers, agent: false }, (response) => {
        response.once('data', (part: Buffer) => {
          resolve({ status: response.statusCode ?? 0, body: JSON.parse(part.toString()) });
          sent.destroy();
        });
      });
      sent.on('error', reject);
      sent.flushHeaders();
    });
  }

  /** Sends a body as it is made, no faster than it is taken; rejects when the connection breaks. */
  stream(path: string, pieces: AsyncIterable<Uint8Array>): Promise<Answer> {
    return new Promise((resolve, reject) => {
      // As a browser's, the connection is kept: the server then reads on after an early answer, and does not break it off.
      const agent = new Agent({ keepAlive: true });
      const sent = request(`${this.address}${path}`, { method: 'POST', agent }, (response) => {
        json(response)
          .then((body) => resolve({ status: response.statusCode ?? 0, body }), reject)
          .finally(() => agent.destroy());
      });
      pipeline(pieces, sent).catch(reject);
    });
  }

  async get<T>(path: string): Promise<T> {
    return (await this.ask('GET', path)).body as T;
  }

  post(path: string, body: unknown): Promise<Answer> {
    return this.ask('POST', path, { 'Content-Type': 'application/json' }, [JSON.stringify(body)]);
  }

  async edit(label: string, changes: readonly Change[]): Promise<EditAnswer> {
    return this.settled(await this.post('/api/edits', { browser: this.browser, label, changes }));
  }

  async step(direction: 'undo' | 'redo'): Promise<EditAnswer> {
    return this.settled(await this.post('/api/history', { browser: this.browser, direction }));
  }

  /** The revision a document has after this client's own edits. */
  rev(doc: DocName, id: string): number {
    return this.revs.get(`${doc} ${id}`) ?? 1;
  }

  async importBytes(name: string, bytes: Uint8Array): Promise<Answer> {
    return this.ask('POST', `/api/recordings?name=${encodeURIComponent(name)}`, {}, [bytes]);
  }

  async import(name: string, bytes: Uint8Array): Promise<ImportAnswer> {
    const { status, body } = await this.importBytes(name, bytes);
    if (status !== 200) throw new Error(errorOf(body).message);
    return body as ImportAnswer;
  }

  recordings(): Promise<RecordingView[]> {
    return this.get('/api/recordings');
  }

  /** The slices of a recording once it has been analysed. */
  async cut(id: string): Promise<CutView> {
    const view = await soon(async () => {
      const found = await this.get<CutView>(`/api/recordings/${id}/cut`);
      if (!found.recording.analysed) throw new Error('The recording was not analysed within a minute.');
      return found;
    });
    this.revs.set(`recording ${id}`, view.recording.rev).set(`cut ${id}`, view.cut?.rev ?? 1);
    for (const slice of view.slices) this.revs.set(`slice ${slice.id}`, slice.rev);
    return view;
  }

  private settled({ status, body }: Answer): EditAnswer {
    if (status !== 200) throw new Error(errorOf(body).message);
    const answer = body as EditAnswer;
    for (const { doc, id, rev } of answer.touched) {
      if (rev === null) this.revs.delete(`${doc} ${id}`);
      else this.revs.set(`${doc} ${id}`, rev);
    }
    return answer;
  }
}

export function errorOf(body: unknown): ErrorAnswer['error'] {
  return (body as ErrorAnswer).error;
}
