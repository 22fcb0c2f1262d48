import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { type Browser, type BrowserContext, chromium, type Page } from 'playwright-core';

/** The project's folder: tests run there, and so do the bundled measuring programs. */
export const ROOT = process.cwd();
export const PROGRAM = join(ROOT, 'bin', 'undercroft');

/** A fresh folder for a test's files. */
export function scratch(): string {
  return mkdtempSync(join(tmpdir(), 'undercroft-test-'));
}

/** Runs the command line; gives what it printed. Throws with its standard error when it fails. */
export function undercroft(...args: string[]): string {
  // The onsets of ten minutes are more than a megabyte.
  return execFileSync(PROGRAM, args, { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'], maxBuffer: 1 << 26 });
}

/** A copy of the demo workspace, made once a build. */
export function demoWorkspace(folder: string): string {
  const build = createHash('sha256')
    .update(readFileSync(join(ROOT, 'dist', '.built')))
    .digest('hex')
    .slice(0, 12);
  const kept = join(tmpdir(), `undercroft-demo-${build}.db`);
  if (!existsSync(kept)) undercroft('demo', '--only-make', '--workspace', kept);
  const copy = join(folder, 'workspace.db');
  copyFileSync(kept, copy);
  return copy;
}

export interface Server {
  readonly address: string;
  readonly workspace: string;
  readonly pid: number;
  /** Ends the process at once, as a power cut would. */
  kill(): Promise<void>;
}

export async function startServer(workspace: string, port = 0): Promise<Server> {
  const child = spawn(PROGRAM, ['serve', '--port', String(port), '--workspace', workspace], {
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const address = await new Promise<string>((resolve, reject) => {
    let said = '';
    const hear = (chunk: Buffer) => {
      said += chunk.toString();
      const match = /open at (http:\/\/127\.0\.0\.1:\d+)/.exec(said);
      if (match) resolve(match[1] as string);
    };
    child.stdout.on('data', hear);
    child.stderr.on('data', hear);
    child.on('exit', () => reject(new Error(`The server ended: ${said}`)));
    setTimeout(() => reject(new Error(`The server did not start: ${said}`)), 120_000).unref();
  });
  return { address, workspace, pid: child.pid as number, kill: () => end(child) };
}

function end(child: ChildProcess): Promise<void> {
  return new Promise((resolve) => {
    if (child.exitCode !== null || child.signalCode !== null) resolve();
    child.on('exit', () => resolve());
    child.kill('SIGKILL');
  });
}

export interface Visit {
  readonly browser: Browser;
  readonly context: BrowserContext;
  readonly page: Page;
  /** What the page complained of; tests expect it to stay empty. */
  readonly complaints: string[];
}

/**
 * Opens Debian's Chromium. Without the autoplay switch sound starts only after a real click or key, as for a person. `args` are
 * further switches of the browser.
 */
export async function visit(args: readonly string[] = []): Promise<Visit> {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      ...args,
    ],
  });
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, acceptDownloads: true });
  const page = await context.newPage();
  page.setDefaultTimeout(60_000);
  await page.addInitScript(keepWhatIsTold);
  const complaints: string[] = [];
  page.on('pageerror', (error) => complaints.push(error.message));
  page.on('console', (message) => {
    if (message.type() === 'error' && !/Failed to load resource/.test(message.text())) complaints.push(message.text());
  });
  return { browser, context, page, complaints };
}

declare global {
  interface Window {
    /** What the page told in passing, in order: its messages, and how many voices were heard. */
    told: string[];
  }
}

/** Runs in the page. A message stands for two seconds, a struck sound's voices for less: a busy machine may look too late. */
function keepWhatIsTold(): void {
  window.told = [];
  const standing = new Set<string>();
  new MutationObserver(() => {
    const now = new Set<string>();
    for (const { textContent } of document.querySelectorAll(
      '[data-sonner-toast]:not([data-removed=true]), [data-testid=voices]',
    ))
      if (textContent) now.add(textContent);
    for (const text of now) if (!standing.has(text)) window.told.push(text);
    standing.clear();
    for (const text of now) standing.add(text);
  }).observe(document, { subtree: true, childList: true, characterData: true, attributeFilter: ['data-removed'] });
}

/** Waits until the page has told this in passing since the last call that waited for something told. */
export async function told(page: Page, what: RegExp): Promise<void> {
  const wait = page.waitForFunction((pattern) => {
    const at = window.told.findIndex((text) => new RegExp(pattern).test(text));
    window.told.splice(0, at + 1);
    return at >= 0;
  }, what.source);
  await wait.catch(async (error: Error) => {
    const instead = await page.evaluate(() => window.told.join(' | '));
    throw new Error(`${error.message}\nNobody told ${what}, but: ${instead}`);
  });
}

export function forgetTold(page: Page): Promise<void> {
  return page.evaluate(() => {
    window.told.length = 0;
  });
}

export function remove(folder: string): void {
  rmSync(folder, { recursive: true, force: true });
}

/** Waits until all that was done is stored. */
export async function saved(page: Page): Promise<void> {
  await page.waitForFunction(() => document.querySelector('[data-testid=saved]')?.textContent === 'Saved');
}

/** What is seen follows what is done by a moment, longer on a busy machine: tries until what is expected is so, and fails as it does if it never is. */
export async function soon<T>(expected: () => T | Promise<T>): Promise<T> {
  for (const end = Date.now() + 60_000; ; ) {
    try {
      return await expected();
    } catch (error) {
      if (Date.now() > end) throw error;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  }
}

/** A server over a workspace of its own and a browser at it, for the tests of one file. */
export interface Session extends Visit {
  readonly folder: string;
  server: Server;
  /** Rows of what is stored, read beside the server. */
  ask<T>(sql: string, ...values: readonly unknown[]): T[];
  end(): Promise<void>;
}

/** Begins what `end` ends; `workspaceIn` makes a workspace in a folder and gives its path, the demo's if there is none; `args` are switches of the browser. */
export async function begin(
  workspaceIn: (folder: string) => string | Promise<string> = demoWorkspace,
  args: readonly string[] = [],
): Promise<Session> {
  const folder = scratch();
  const server = await startServer(await workspaceIn(folder));
  const session: Session = {
    ...(await visit(args)),
    folder,
    server,
    ask<T>(sql: string, ...values: readonly unknown[]): T[] {
      const db = new Database(session.server.workspace, { readonly: true });
      try {
        return db.prepare(sql).all(...values) as T[];
      } finally {
        db.close();
      }
    },
    async end() {
      await session.browser.close();
      await session.server.kill();
      remove(folder);
    },
  };
  return session;
}
