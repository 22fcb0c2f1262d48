import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import type { HitView, RecordingView } from '../../src/contract/views';
import { writeWav } from '../../src/core/format/wav';
import { demoOneShots } from '../../src/demo/archive';
import { begin, type Session, saved, soon } from '../harness';
import { Client } from '../server/client';
import { choose } from './gestures';

let session: Session;
let page: Page;
let client: Client;

beforeAll(async () => {
  session = await begin((folder) => join(folder, 'workspace.db'));
  client = new Client(session.server.address);
  page = session.page;
  await page.goto(`${session.server.address}/recordings`);
  await page.getByText('The archive is empty').waitFor();
});

afterAll(() => session?.end());

afterEach(() => expect(session.complaints).toEqual([]));

const row = (title: string) =>
  page.locator('[data-testid=recording]').filter({ has: page.locator(`input[value="${title}"]`) });
const hit = (name: string) => page.locator('[data-testid=hit]').filter({ has: page.locator(`input[value="${name}"]`) });
const imports = () => page.getByRole('region', { name: 'Imports' });

/** Eight strikes a quarter of a second apart, unlike any other seed's. */
function loop(seed: number): Uint8Array<ArrayBuffer> {
  const samples = Float32Array.from(
    { length: 88_200 },
    (_, i) => Math.sin((i % 11_025) * (0.05 + seed / 90)) * Math.exp(-(i % 11_025) / 1200) * 0.8,
  );
  return writeWav({ sampleRate: 44100, channels: [samples] }, 's16');
}

/** Waits until the server has listened to all that came in. */
async function listened(count: number): Promise<RecordingView[]> {
  for (let i = 0; i < 400; i++) {
    const list = await client.recordings();
    if (list.length >= count && list.every((r) => r.analysed)) return list;
    await new Promise((r) => setTimeout(r, 100));
  }
  throw new Error('Not all recordings were listened to within 40 s.');
}

async function dropOn(selector: string, name: string, bytes: Uint8Array): Promise<void> {
  const base64 = Buffer.from(bytes).toString('base64');
  const transfer = await page.evaluateHandle(
    ([n, b]) => {
      const data = new DataTransfer();
      data.items.add(new File([Uint8Array.from(atob(b as string), (c) => c.charCodeAt(0))], n as string));
      return data;
    },
    [name, base64],
  );
  for (const type of ['dragenter', 'dragover', 'drop'])
    await page.locator(selector).dispatchEvent(type, { dataTransfer: transfer });
}

describe('a mixed folder', () => {
  test('every kind comes in from one folder, the broken one says why and is tried again, the rest is left alone', async () => {
    const from = join(session.folder, 'attic');
    mkdirSync(join(from, 'deeper'), { recursive: true });
    const source = join(from, 'weir.wav');
    writeFileSync(source, loop(1));
    const ffmpeg = (name: string, ...args: string[]) =>
      execFileSync('ffmpeg', [
        '-v',
        'error',
        '-y',
        '-i',
        source,
        '-af',
        `volume=0.${name.length}`,
        ...args,
        join(from, name),
      ]);
    ffmpeg('gate.aiff');
    ffmpeg('lock chamber.flac');
    ffmpeg('deeper/wheel.mp3', '-metadata', 'title=The great wheel', '-metadata', 'TBPM=120');
    ffmpeg('deeper/rain pipe.ogg', '-c:a', 'libvorbis');
    ffmpeg('tailrace 97bpm.opus', '-c:a', 'libopus');
    ffmpeg('penstock gallery.m4a', '-c:a', 'aac');
    writeFileSync(join(from, 'broken.mp3'), Buffer.alloc(3000, 1));
    writeFileSync(join(from, 'shopping list.txt'), 'nails, rope');
    await page.getByRole('button', { name: 'Import …' }).first().click();
    await page.getByText('Files come in').waitFor();
    await page.getByTestId('folder-input').setInputFiles(from);
    await imports().getByText('2 could not be read').waitFor();
    const text = (await imports().textContent()) ?? '';
    expect(text).toMatch(/Imported 7 of 9/);
    expect(text).toMatch(/broken\.mp3.*This is not a sound file that can be read/);
    // What failed stands first in the report, and can be tried again.
    await soon(async () => expect(await imports().locator('li').first().getAttribute('data-state')).toBe('failed'));
    await imports().getByRole('button', { name: 'Try 2 again' }).click();
    await imports().getByText('2 could not be read').waitFor();
    await page.getByLabel('Close the list of imports').click();
    const list = await listened(7);
    expect(list.map((r) => r.fileKind).sort()).toEqual(['aac', 'aiff', 'flac', 'mp3', 'opus', 'vorbis', 'wav']);
  });

  test('what a file says is shown: its tags, its tempo, the delay that was taken off', async () => {
    await row('wheel').click();
    const story = page.getByRole('complementary');
    await story.getByText('The great wheel').waitFor();
    await soon(async () => expect(await story.textContent()).toMatch(/frames of the encoder's delay/));
    await soon(async () => expect(await story.getByLabel('Tempo in BPM').inputValue()).toBe('120'));
    await row('tailrace 97bpm').click();
    await page.getByRole('complementary', { name: 'Story of tailrace 97bpm' }).waitFor();
    await soon(async () => expect(await page.getByLabel('Tempo in BPM').inputValue()).toBe('97'));
  });

  test('words typed find, heads sort, and many are edited at once as one step', async () => {
    await page.getByLabel('Search recordings').fill('wheel');
    await soon(async () => expect(await page.locator('[data-testid=recording]').count()).toBe(1));
    await page.getByLabel('Search recordings').fill('');
    await page.getByRole('button', { name: 'Sort by Title' }).click();
    await soon(async () =>
      expect(await page.locator('[data-testid=recording] input').first().inputValue()).toBe('gate'),
    );
    await page.locator('h1').click();
    await page.keyboard.press('Control+a');
    const bar = page.getByRole('region', { name: 'Edit those chosen' });
    await bar.getByText('7 chosen').waitFor();
    await bar.getByLabel('Add a tag').fill('mill');
    await bar.getByLabel('Add a tag').press('Enter');
    await choose(bar, 'Rights of those chosen', 'own');
    await saved(page);
    let list = await client.recordings();
    expect(list.every((r) => r.tags.includes('mill') && r.rightsKind === 'own')).toBe(true);
    await page.locator('h1').click();
    await page.keyboard.press('Control+z');
    await saved(page);
    list = await client.recordings();
    expect(list.every((r) => r.tags.includes('mill') && r.rightsKind === 'unknown')).toBe(true);
  });

  test('arrow keys hear in place; the bin gives back what it takes, and says what depends on it', async () => {
    // Beside the middle, where a message may still stand.
    await row('gate').click({ position: { x: 300, y: 12 } });
    await page.keyboard.press('ArrowDown');
    await page.waitForFunction(
      () =>
        (
          globalThis as never as { undercroftSound?: { audition: { nowPlaying: { get(): unknown } } } }
        ).undercroftSound?.audition.nowPlaying.get() != null,
    );
    await page.keyboard.press('Space');
    await row('rain pipe').click();
    await page.keyboard.press('Delete');
    await page.getByRole('button', { name: 'Bin 1' }).waitFor();
    await soon(async () => expect(await row('rain pipe').count()).toBe(0));
    await page.getByRole('button', { name: 'Bin 1' }).click();
    await row('rain pipe').click();
    await page.getByRole('button', { name: 'Put back' }).click();
    await page.getByText('The bin is empty.').waitFor();
    await page.getByRole('button', { name: 'Bin 0' }).click();
    await row('rain pipe').waitFor();
  });
});

describe('ready sounds', () => {
  test('a folder of one-shots becomes named hits, without a stop at Slice', async () => {
    const shelf = join(session.folder, 'prop-shelf');
    mkdirSync(shelf);
    for (const { fileName, audio } of demoOneShots())
      writeFileSync(join(session.folder, fileName), writeWav(audio, 's24'));
    await page.getByTestId('folder-input').setInputFiles(shelf);
    await imports().getByText('Imported 11 of 11').waitFor();
    await listened(18);
    await page.getByRole('link', { name: 'Hits', exact: true }).click();
    await hit('Kick barrel 1').waitFor();
    const hits = await client.get<HitView[]>('/api/hits');
    expect(Object.fromEntries(hits.map((h) => [h.name, h.family]))).toMatchObject({
      'Kick barrel 1': 'kick',
      'Snare meal sack 2': 'snare',
      'HatClosed shears 01': 'closed hat',
      'HatOpen shears 01': 'open hat',
      'Tom churn low': 'tom',
      'Crash roof tin': 'cymbal',
      'Clap sluice board': 'clap',
      'Perc door knock': 'percussion',
    });
    expect(hits).toHaveLength(11);
    await page.getByLabel('Close the list of imports').click();
  });

  test('a name that the sound does not bear out is pointed out, and put right in one gesture', async () => {
    await page.getByRole('button', { name: /To look at/ }).click();
    await hit('Closed hat (tin lid)')
      .getByText(/Named a closed hat, but/)
      .waitFor();
    await choose(hit('Closed hat (tin lid)'), 'Family of Closed hat (tin lid)', 'tom');
    await saved(page);
    await soon(async () => expect(await hit('Closed hat (tin lid)').count()).toBe(0));
  });

  test('a file with two strikes is cut in two by one click', async () => {
    await hit('Perc door knock').click();
    await page.getByRole('button', { name: 'Cut into 2 hits' }).click();
    await saved(page);
    await page.getByRole('button', { name: 'All', exact: true }).click();
    await hit('Perc door knock 2').waitFor();
    const [first, second] = (await client.get<HitView[]>('/api/hits')).filter((h) => h.name.startsWith('Perc door'));
    expect(second?.startFrame).toBe(first?.endFrame);
    // The second strike begins 0.34 s into the file.
    expect(Math.abs((second?.startFrame ?? 0) / 48000 - 0.34)).toBeLessThan(0.005);
  });

  test('hits are prepared, and set back', async () => {
    await hit('Snare meal sack 2').click();
    await page.getByRole('button', { name: 'Prepare …' }).click();
    await page.getByRole('button', { name: 'Prepare it' }).click();
    await saved(page);
    const find = async () => (await client.get<HitView[]>('/api/hits')).find((h) => h.name === 'Snare meal sack 2');
    const prepared = await find();
    expect(prepared?.steps).toMatchObject([{ processor: 'level', to: 'peak' }]);
    // It is struck 150 ms into its file.
    expect((prepared?.startFrame ?? 0) / 48000).toBeGreaterThan(0.145);
    expect((prepared?.startFrame ?? 0) / 48000).toBeLessThan(0.153);
    await page.getByRole('button', { name: 'Set back' }).click();
    await saved(page);
    await soon(async () => expect(await find()).toMatchObject({ steps: [], startFrame: 0 }));
  });
});

describe('to the pads', () => {
  test('a file dropped on a pad is on the pad', async () => {
    await page.getByRole('button', { name: 'Make a kit' }).click();
    await page.getByTestId('pads').waitFor();
    await saved(page);
    await dropOn('[data-position="8"]', 'Snare hopper.wav', loop(40));
    await page.getByRole('button', { name: /Pad A: Snare hopper/ }).waitFor();
    await page.waitForSelector('[data-position="8"][data-state=ready]');
    await saved(page);
    const kit = (await client.get<{ id: string }[]>('/api/kits'))[0];
    const view = await client.get<{ pads: { position: number; family: string }[] }>(`/api/kits/${kit?.id}`);
    expect(view.pads).toMatchObject([{ position: 8, family: 'snare' }]);
    await page.getByLabel('Close the list of imports').click();
  });

  test('the picker by keyboard alone: unfold, hear, lay, and on to the next pad', async () => {
    await page.getByRole('link', { name: 'Kits', exact: true }).click();
    await page.getByLabel('Name of the kit').waitFor();
    // From the pad that the file was dropped on to the one under it.
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('F6');
    const list = page.getByRole('listbox', { name: 'Sounds to pick from' });
    await list.getByText('gate', { exact: true }).waitFor();
    await soon(async () =>
      expect(await page.evaluate(() => document.activeElement?.getAttribute('aria-label'))).toBe('Sounds to pick from'),
    );
    await page.keyboard.press('/');
    await page.keyboard.type('weir');
    await page.keyboard.press('Enter');
    await page.keyboard.press('ArrowRight');
    await page.locator('[data-testid=pick]').nth(4).waitFor();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await saved(page);
    const filled = await page
      .locator('[data-testid=pads] [data-state]')
      .evaluateAll((pads) => pads.map((p) => p.getAttribute('data-position')).sort());
    expect(filled).toEqual(['0', '1', '8']);
    // It stays open; hits are laid from it as well, as the hits they are.
    await page.getByRole('button', { name: 'Hits', exact: true }).click();
    await page.getByLabel('Search the picker').fill('crash');
    await page.getByLabel('Search the picker').press('Enter');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: /: Crash roof tin/ }).waitFor();
    await saved(page);
    const crash = (await client.get<HitView[]>('/api/hits')).filter((h) => h.name.startsWith('Crash roof tin'));
    expect(crash).toMatchObject([{ kits: ['First kit'] }]);
    await page.keyboard.press('F6');
    await list.waitFor({ state: 'detached' });
  });

  test('rights that are not known stop an export, with the sounds and what to do; set right there, it goes out', async () => {
    await soon(async () => expect(await page.getByRole('img', { name: 'Rights: unknown' }).count()).toBeGreaterThan(0));
    await page.getByRole('button', { name: 'Export zip …' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByText('“First kit” cannot be passed on yet').waitFor();
    await soon(async () => expect(await dialog.getByTestId('held').count()).toBe(3));
    const kit = (await client.get<{ id: string }[]>('/api/kits'))[0];
    const refused = await client.ask('GET', `/api/kits/${kit?.id}/export`);
    expect(refused.status).toBe(409);
    expect(JSON.stringify(refused.body)).toMatch(/cannot be passed on.*weir.*Nobody has said whose/);
    // A private copy says that it is one.
    const [copy] = await Promise.all([
      page.waitForEvent('download'),
      dialog.getByRole('button', { name: 'Private copy' }).click(),
    ]);
    const zip = join(session.folder, 'private.zip');
    await copy.saveAs(zip);
    expect(execFileSync('unzip', ['-l', zip], { encoding: 'utf8' })).toMatch(/PRIVATE - not to be passed on\.txt/);
    await choose(dialog.getByTestId('held').first(), 'Rights', 'own');
    await soon(async () => expect(await dialog.getByTestId('held').count()).toBe(2));
    // The rights of all that is left, in one choice.
    await choose(dialog, 'Rights of all of them', 'own');
    await dialog.getByText('“First kit” may be passed on').waitFor();
    expect(await dialog.getByTestId('held').count()).toBe(0);
    await saved(page);
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      dialog.getByRole('button', { name: 'Export zip', exact: true }).click(),
    ]);
    expect(download.suggestedFilename()).toBe('First kit.zip');
  });

  test('a recording that something is made of stays, and says what', async () => {
    await page.goto(`${session.server.address}/recordings`);
    await page.getByLabel('Search recordings').fill('weir');
    await row('weir').click();
    await page.keyboard.press('Delete');
    await page.getByText(/hits are made of it, heard in First kit; they go on sounding/).waitFor();
    await page.getByRole('button', { name: 'Bin 1' }).click();
    await row('weir').click();
    await page.getByRole('button', { name: 'Remove for good' }).click();
    await page.getByText(/cannot go for good: 2 hits are made of it.*\(First kit\)/).waitFor();
    await page.getByRole('button', { name: 'Put back' }).click();
    await saved(page);
  });

  test('a recording that nothing is made of goes for good, with its audio', async () => {
    await page.getByRole('button', { name: /^Bin/ }).click();
    await page.getByLabel('Search recordings').fill('gate');
    await row('gate').click();
    await page.keyboard.press('Delete');
    await page.getByRole('button', { name: 'Bin 1' }).click();
    await row('gate').click();
    await page.getByRole('button', { name: 'Remove for good' }).click();
    await page.getByText('The bin is empty.').waitFor();
    expect((await client.recordings()).map((r) => r.title)).not.toContain('gate');
  });
});

describe('watched folders', () => {
  test('a folder is scanned again for what is new only; a path that is none is refused with the reason', async () => {
    const watched = join(session.folder, 'watched');
    mkdirSync(watched);
    writeFileSync(join(watched, 'sluice one.wav'), loop(71));
    writeFileSync(join(watched, 'not sound.wav'), 'no');
    await page.goto(`${session.server.address}/recordings`);
    await page.getByRole('button', { name: 'Import …' }).first().click();
    await page.getByLabel('Path of a folder').fill(`${watched}-which-is-not`);
    await page.getByRole('button', { name: 'Watch and scan' }).click();
    await page.getByText(/There is no folder ".*which-is-not" on the machine/).waitFor();
    await page.getByLabel('Path of a folder').fill(watched);
    await page.getByRole('button', { name: 'Watch and scan' }).click();
    await page.getByText('1 new, 0 here already, 1 could not be taken in:').waitFor();
    writeFileSync(join(watched, 'sluice two.wav'), loop(72));
    writeFileSync(join(watched, 'sluice one again.wav'), readFileSync(join(watched, 'sluice one.wav')));
    await page.getByRole('button', { name: 'Scan for new' }).click();
    await page.getByText('1 new, 1 here already.').waitFor();
    await page.getByRole('button', { name: 'Scan for new' }).click();
    await page.getByText('0 new, 0 here already.').waitFor();
    await page.getByRole('button', { name: 'Close', exact: true }).click();
    await page.getByLabel('Search recordings').fill('sluice');
    await row('sluice two').waitFor();
    await soon(async () => expect(await row('sluice one again').count()).toBe(0));
  });
});
