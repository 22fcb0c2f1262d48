import { renameSync } from 'node:fs';
import Database from 'better-sqlite3';
import type { Locator } from 'playwright-core';
import { begin, demoWorkspace, type Session, saved, soon, told } from '../harness';

let session: Session;
beforeAll(async () => {
  session = await begin((folder) => {
    const path = demoWorkspace(folder);
    // As after a fault that ended the thread again and again.
    const db = new Database(path);
    const { id } = db.prepare("SELECT id FROM recording WHERE title = 'Headrace loop'").get() as { id: string };
    db.prepare('DELETE FROM analysis WHERE recording_id = ?').run(id);
    db.prepare('DELETE FROM job WHERE recording_id = ?').run(id);
    db.prepare(
      "INSERT INTO job (kind, recording_id, state, error) VALUES ('analyse', ?, 'failed', 'given up after 3 attempts')",
    ).run(id);
    db.close();
    return path;
  });
});

afterAll(() => session?.end());

const recording = (title: string): Locator =>
  session.page.getByTestId('recording').filter({ has: session.page.locator(`input[value="${title}"]`) });
const hit = (name: string): Locator =>
  session.page.getByTestId('hit').filter({ has: session.page.locator(`input[value="${name}"]`) });
const names = () => session.ask<{ name: string }>('SELECT name FROM hit').map((h) => h.name);

test('a recording that was given up on says so, and is listened to when asked', async () => {
  const { page } = session;
  await page.goto(`${session.server.address}/recordings`);
  const again = recording('Headrace loop').getByRole('button', { name: 'listen again' });
  expect(await again.getAttribute('title')).toMatch(/given up after 3 attempts/);
  await again.click();
  await recording('Headrace loop')
    .getByText(/^\d+ · \d+$/)
    .waitFor();
  expect(
    session.ask(
      'SELECT 1 FROM recording r JOIN analysis a ON a.recording_id = r.id WHERE r.title = ?',
      'Headrace loop',
    ),
  ).toHaveLength(1);
});

test('a hit leaves the bin for good with its pad, which is told before; the history brings both back', async () => {
  const { page } = session;
  await page.getByRole('link', { name: 'Hits' }).click();
  await hit('Clap Fairground 01').click({ position: { x: 8, y: 8 } });
  await page.keyboard.press('Delete');
  await page.getByRole('button', { name: 'Bin 1' }).click();
  await hit('Clap Fairground 01').click({ position: { x: 8, y: 8 } });
  await page.getByRole('button', { name: 'Remove …' }).click();
  await page.getByText('Pads that go with it, since they play nothing else').waitFor();
  await page.getByRole('dialog').getByText('Clap Fairground 01 (Millstone)').waitFor();
  await page.getByRole('button', { name: 'Remove', exact: true }).click();
  await soon(() => expect(names()).not.toContain('Clap Fairground 01'));
  await saved(page);
  await page.keyboard.press('F7');
  const removed = page.getByTestId('done').filter({ hasText: 'removed Clap Fairground 01' });
  await removed.getByRole('button', { name: 'Take back' }).click();
  await removed.getByRole('button', { name: 'Do again' }).waitFor();
  expect(names()).toContain('Clap Fairground 01');
  // What it was made by cannot go from under it.
  const made = page.getByTestId('done').filter({ hasText: 'made the kit Millstone' });
  await made.getByRole('button', { name: 'Take back' }).click();
  await made.getByText(/since\. Take that back first|still needs/).waitFor();

  await page.getByRole('button', { name: 'Close', exact: true }).click();
});

test('an edit that another browser stands on is passed over by undo, and said', async () => {
  const { page } = session;
  await page.getByRole('button', { name: 'All', exact: true }).click();
  const rename = async (from: string, to: string) => {
    await hit(from).getByLabel('Name of the hit').fill(to);
    await page.keyboard.press('Enter');
    await saved(page);
  };
  await rename('Kick barrel 1', 'Barrel one');
  await rename('Kick barrel 2', 'Barrel two');
  const rows = session.ask<{ id: string; rev: number }>("SELECT id, rev FROM hit WHERE name = 'Barrel two'");
  const change = { op: 'update', doc: 'hit', ...rows[0], set: { name: 'Barrel 2' } };
  const answer = await fetch(`${session.server.address}/api/edits`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ browser: 'another-browser-1', label: 'theirs', changes: [change] }),
  });
  expect(answer.status).toBe(200);
  await hit('Barrel 2').waitFor();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await told(
    page,
    /Undone: renamed Kick barrel 1 to Barrel one\. “renamed Kick barrel 2 to Barrel two” stays: The same hit was changed elsewhere/,
  );
  expect(names()).toEqual(expect.arrayContaining(['Kick barrel 1', 'Barrel 2']));
});

test('a workspace that is moved away: what is done waits and is not called saved; put back, all of it is', async () => {
  const { page } = session;
  const { workspace } = session.server;
  renameSync(workspace, `${workspace}-away`);
  await page.getByLabel('Name of the hit').first().fill('Waiting');
  await page.keyboard.press('Enter');
  await page.getByText('Not saved: the workspace is out of reach').waitFor();
  expect(await page.getByTestId('saved').getAttribute('title')).toMatch(/moved, replaced or deleted/);
  renameSync(`${workspace}-away`, workspace);
  await saved(page);
  expect(names()).toContain('Waiting');
});

test('the page complained of nothing on the way', () => expect(session.complaints).toEqual([]));
