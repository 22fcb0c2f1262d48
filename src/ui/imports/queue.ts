import type { Preparation, TakeAs } from '@/contract/taking';
import type { ErrorAnswer, ImportAnswer } from '@/contract/views';
import { decoding } from '../data/decoding';

export interface ImportItem {
  readonly id: number;
  readonly name: string;
  readonly bytes: number;
  readonly sent: number;
  /** 0..1 once the file has arrived and is being decoded. */
  readonly decoded: number;
  readonly state: 'waiting' | 'sending' | 'done' | 'linked' | 'failed' | 'cancelled';
  readonly message: string;
  readonly recordingId: string | null;
}

export interface ImportChoice {
  readonly takeAs: TakeAs;
  readonly prepare: readonly Preparation[];
}

/** A file, with its path inside the dropped folder where there was one. */
export interface FileToImport {
  readonly file: File;
  readonly path: string;
}

interface Upload {
  readonly id: number;
  readonly source: FileToImport;
  readonly choice: ImportChoice;
  readonly settled: (answer: ImportAnswer | null) => void;
}

/** A file with the server's answer; null where it could not be imported. */
export interface Answered {
  readonly source: FileToImport;
  readonly answer: ImportAnswer | null;
}

/** Concurrent uploads: the disk is the bottleneck, and two keep it busy. */
const AT_ONCE = 2;
/** Attempts at a file whose upload the server aborts. */
const MOST_TRIES = 3;

/** The uploads of this page: two at a time, each with its progress; failed ones can be retried. */
export class ImportQueue {
  items: readonly ImportItem[] = [];
  /** Bytes received since the queue was last idle, and when that began. */
  begun = { at: 0, bytes: 0 };
  private readonly uploads = new Map<number, Upload>();
  private waiting: number[] = [];
  private readonly running = new Map<number, XMLHttpRequest>();
  private next = 1;

  constructor(
    private readonly changed: () => void,
    private readonly settled: () => void,
  ) {}

  /**
   * `onDone` is called when all of these files have been imported or have failed: in their order, null for failures.
   */
  add(sources: readonly FileToImport[], choice: ImportChoice, onDone?: (answers: readonly Answered[]) => void): void {
    if (!this.busy) {
      this.items = this.items.filter((i) => i.state === 'failed');
      this.begun = { at: performance.now(), bytes: 0 };
    }
    const answers: (Answered | undefined)[] = sources.map(() => undefined);
    const fresh = sources.map((source, i): ImportItem => {
      const id = this.next++;
      const settled = (answer: ImportAnswer | null) => {
        answers[i] = { source, answer };
        if (answers.every((a) => a !== undefined)) onDone?.(answers as Answered[]);
      };
      this.uploads.set(id, { id, source, choice, settled });
      this.waiting.push(id);
      return { ...NEW, id, name: source.path, bytes: source.file.size };
    });
    this.items = [...this.items, ...fresh];
    this.changed();
    this.startNext();
  }

  get busy(): boolean {
    return this.waiting.length > 0 || this.running.size > 0;
  }

  cancel(id: number): void {
    this.waiting = this.waiting.filter((other) => other !== id);
    const request = this.running.get(id);
    if (request) request.abort();
    else {
      this.change(id, { state: 'cancelled', message: 'Cancelled before it began.' });
      this.uploads.get(id)?.settled(null);
    }
  }

  cancelAll(): void {
    for (const id of [...this.waiting, ...this.running.keys()]) this.cancel(id);
  }

  retry(ids: readonly number[]): void {
    for (const id of ids) {
      this.waiting.push(id);
      this.change(id, { state: 'waiting', message: '', sent: 0, decoded: 0 });
    }
    this.startNext();
  }

  clear(): void {
    this.items = [];
    this.uploads.clear();
    this.changed();
  }

  private startNext(): void {
    while (this.running.size < AT_ONCE) {
      const id = this.waiting.shift();
      const upload = id === undefined ? undefined : this.uploads.get(id);
      if (!upload) return;
      this.send(upload);
    }
  }

  private send(upload: Upload, tries = 1): void {
    const { id, source, choice, settled: tellSettled } = upload;
    this.change(id, { state: 'sending' });
    // XMLHttpRequest, because fetch reports no upload progress.
    const request = new XMLHttpRequest();
    this.running.set(id, request);
    const key = `${id}-${crypto.randomUUID().slice(0, 8)}`;
    const unhear = decoding.listen(key, (share) => this.change(id, { decoded: share }));
    const settle = (set: Partial<ImportItem>, answer: ImportAnswer | null = null) => {
      unhear();
      this.running.delete(id);
      this.change(id, set);
      this.settled();
      tellSettled(answer);
      this.startNext();
    };
    request.upload.onprogress = (event) => {
      const before = this.items.find((i) => i.id === id)?.sent ?? 0;
      this.begun.bytes += event.loaded - before;
      this.change(id, { sent: event.loaded });
    };
    request.onabort = () => settle({ state: 'cancelled', message: 'Cancelled; nothing of it was kept.' });
    request.onerror = () =>
      settle({ state: 'failed', message: 'The connection to the server was lost. Is it still running?' });
    request.onload = () => {
      const { set, answer, again } = outcome(request, source.path);
      // Aborted by no fault of the file: retried automatically.
      if (again && tries < MOST_TRIES) {
        unhear();
        this.change(id, { sent: 0, decoded: 0 });
        this.send(upload, tries + 1);
      } else settle(set, answer);
    };
    const query = new URLSearchParams({ name: source.path, as: choice.takeAs, prepare: choice.prepare.join(','), key });
    request.open('POST', `/api/recordings?${query}`);
    request.send(source.file);
  }

  private change(id: number, set: Partial<ImportItem>): void {
    this.items = this.items.map((item) => (item.id === id ? { ...item, ...set } : item));
    this.changed();
  }
}

const NEW: ImportItem = {
  id: 0,
  name: '',
  bytes: 0,
  sent: 0,
  decoded: 0,
  state: 'waiting',
  message: '',
  recordingId: null,
};

interface Outcome {
  readonly set: Partial<ImportItem>;
  readonly answer: ImportAnswer | null;
  readonly again?: boolean;
}

function outcome(request: XMLHttpRequest, name: string): Outcome {
  try {
    if (request.status === 200) {
      const answer = JSON.parse(request.responseText) as ImportAnswer;
      const said = answer.duplicate ? [`The same audio is here already, as "${answer.title}"; linked to it.`] : [];
      const message = [...said, ...answer.warnings].join(' ');
      const state = answer.duplicate ? 'linked' : 'done';
      return { set: { state, message, recordingId: answer.recordingId }, answer };
    }
    const { error } = JSON.parse(request.responseText) as ErrorAnswer;
    // The list names the file already.
    const message = error.message.startsWith(`${name}: `) ? error.message.slice(name.length + 2) : error.message;
    return { set: { state: 'failed', message }, answer: null, again: error.code === 'interrupted' };
  } catch {
    const message = `The server did not answer as expected for "${name}" (${request.status}).`;
    return { set: { state: 'failed', message }, answer: null };
  }
}
