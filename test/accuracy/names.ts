import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { featuresOf } from '../../src/core/describe/features';
import { doubtOf } from '../../src/core/describe/plausible';
import type { Family } from '../../src/core/family';
import { RATE, renderNotes } from './fluid';
import { REPORT, TUNING } from './fonts';

/** Percussion keys of the GM Level 1 percussion key map (MIDI Association RP-003) whose family is beyond question. */
const KEYS: Readonly<Record<number, Family>> = {
  35: 'kick',
  36: 'kick',
  37: 'rim',
  38: 'snare',
  39: 'clap',
  40: 'snare',
  41: 'tom',
  42: 'closed hat',
  43: 'tom',
  44: 'closed hat',
  45: 'tom',
  46: 'open hat',
  47: 'tom',
  48: 'tom',
  49: 'cymbal',
  50: 'tom',
  51: 'cymbal',
  52: 'cymbal',
  55: 'cymbal',
  57: 'cymbal',
  59: 'cymbal',
};
const FAMILIES: readonly Family[] = ['kick', 'snare', 'rim', 'clap', 'closed hat', 'open hat', 'tom', 'cymbal'];
const SPACE_S = 4;

/**
 * `npm run names`: how often a true name is doubted, and how often a false one, over the percussion of the report fonts
 * (`--tuning`: those the bounds were set on). A false name that would do no harm - a snare named a clap - need not be doubted.
 */
const folder = mkdtempSync(join(tmpdir(), 'undercroft-names-'));
let truth = 0;
const wronged: string[] = [];
const pairs = new Map<string, { doubted: number; of: number }>();
for (const [font, fonts] of Object.entries(process.argv.includes('--tuning') ? TUNING : REPORT)) {
  for (const velocity of [50, 90, 120]) {
    const keys = Object.keys(KEYS).map(Number);
    // 120 to the minute, 480 ticks a quarter: 960 ticks a second.
    const notes = keys.map((key, i) => ({ tick: i * SPACE_S * 960, key, velocity, channel: 9, lengthTicks: 480 }));
    const samples = renderNotes(fonts, notes, 120, keys.length * SPACE_S, folder);
    for (const [i, key] of keys.entries()) {
      const sound = samples.subarray(i * SPACE_S * RATE, (i + 1) * SPACE_S * RATE);
      const features = featuresOf(sound, RATE);
      if (!features) continue;
      const family = KEYS[key] as Family;
      truth++;
      const doubt = doubtOf(family, features);
      if (doubt) wronged.push(`${font} key ${key} at ${velocity}: ${doubt}`);
      for (const named of FAMILIES.filter((f) => f !== family)) {
        const pair = pairs.get(`${family} named ${named}`) ?? { doubted: 0, of: 0 };
        pair.of++;
        if (doubtOf(named, features)) pair.doubted++;
        pairs.set(`${family} named ${named}`, pair);
      }
    }
  }
}
console.log(`True names doubted: ${wronged.length} of ${truth}`);
for (const line of wronged) console.log(`  ${line}`);
for (const family of FAMILIES) {
  const told = FAMILIES.filter((f) => f !== family).map((named) => {
    const pair = pairs.get(`${family} named ${named}`) as { doubted: number; of: number };
    return `${named} ${Math.round((100 * pair.doubted) / pair.of)} %`;
  });
  console.log(`A ${family} under another name is doubted: ${told.join(', ')}`);
}
rmSync(folder, { recursive: true });
if (wronged.length > 0.05 * truth) process.exitCode = 1;
