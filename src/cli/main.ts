import { Command, CommanderError, Option } from 'commander';
import { SPLIT_PARAMETERS } from '@/core/onset/split';
import { addFlags, between } from './parameters';
import { SPLIT_FLAGS } from './split-flags';

/**
 * The `undercroft` command; each part is loaded on demand. Exit code 0 success, 1 failure on some file, 2 wrong use.
 */
const program = new Command('undercroft')
  .description('From a recording to a playable drum kit.')
  .exitOverride()
  .showHelpAfterError();

const port = between('Port', { low: 0, high: 65535, whole: true });

const onsets = program.command('onsets').description('find the onsets and slices of sound files').argument('<file...>');
addFlags(onsets, SPLIT_PARAMETERS, SPLIT_FLAGS)
  .option('--listen', 'tell of every slice what is heard in it (family, root, isolation, group), however long the file')
  .option('--no-listen', 'tell of no slice what is heard in it; by default of those of files up to two minutes')
  .option('--json', 'one JSON object a line', false)
  .action(async (files, options) => (await import('./onsets')).runOnsets(files, options));

program
  .command('describe')
  .description('tell of sound files, each one hit: family, root, levels, times')
  .argument('<file...>')
  .option('--json', 'one JSON object a line', false)
  .action(async (files, options) => (await import('./describe')).runDescribe(files, options));

program
  .command('render')
  .description('treat a sound file, or a hit of one, as the application does, and write it as a WAV file')
  .argument('<file>', 'a sound file, or HIT.json with file, startFrame, endFrame and steps')
  .requiredOption('--out <file>', 'where the WAV file goes')
  .option('--steps <file>', 'a JSON list of steps: [{"processor": "tune", "semitones": 3}, ...]')
  .addOption(
    new Option('--encoding <name>', 'how samples are written').choices(['s16', 's24', 'f32', 'f64']).default('f32'),
  )
  .action(async (file, options) => (await import('./render')).runRender(file, options));

program
  .command('layer')
  .description('lay sound files over one another into one stronger sound, and tell whether they add')
  .argument('<file...>', '2 to 8 sound files; the first keeps its place')
  .requiredOption('--out <file>', 'where the WAV file goes')
  .option('--line-up', 'bring them together, and invert polarities that cancel', false)
  .addOption(new Option('--by <what>', 'what they are lined up by').choices(['attack', 'lows']).default('attack'))
  .option('--mend', 'also move them where the lows add up better', false)
  .option('--share', 'share the spectrum among them', false)
  .addOption(
    new Option('--encoding <name>', 'how samples are written').choices(['s16', 's24', 'f32', 'f64']).default('f32'),
  )
  .option('--json', 'every figure as JSON', false)
  .action(async (files, options) => (await import('./layer')).runLayer(files, options));

const kit = program
  .command('kit')
  .description('make a kit of one loop: its contiguous slices on pads, written as files')
  .argument('<file...>')
  .requiredOption('--out <folder>', 'where the files go')
  .option('--formats <list>', 'of wav, sfz, bundle', 'wav,sfz');
addFlags(kit, SPLIT_PARAMETERS, { sensitivity: SPLIT_FLAGS.sensitivity })
  .option('--json', 'one JSON object a line', false)
  .action(async (files, options) => (await import('./kit')).runKit(files, options));

program
  .command('groove')
  .description('take the rhythm out of a loop: its strokes by roles, as a MIDI file')
  .argument('<file>', 'a loop')
  .option('--out <file>', 'where the MIDI file goes')
  .option('--json', 'the strokes as JSON', false)
  .action(async (file, options) => (await import('./groove')).runGroove(file, options));

program
  .command('voice')
  .description('strike the struck voice once, into a WAV file')
  .argument('<settings>', 'its settings as JSON; what is left out is as it is at first')
  .requiredOption('--out <file>', 'where the WAV file goes')
  .option('--velocity <n>', 'how hard', between('Velocity', { low: 1, high: 127, whole: true }), 100)
  .option('--seed <n>', 'of its variation', between('Seed', { low: 0, high: 0xffffff, whole: true }), 1)
  .option('--rate <hertz>', 'sample rate', between('Rate', { low: 8000, high: 192_000, whole: true }), 48_000)
  .action(async (file, options) => (await import('./voice')).runVoice(file, options));

program
  .command('drummer')
  .description('let the fairground drummer play one of its nine rhythms, into a WAV file')
  .requiredOption('--out <file>', 'where the WAV file goes')
  .option('--rhythm <n>', 'which, 1 to 9', between('Rhythm', { low: 1, high: 9, whole: true }), 1)
  .option('--speed <share>', 'of its crank: 1 is full speed', between('Speed', { low: 0.1, high: 2 }), 1)
  .option('--laps <n>', 'how often it plays it', between('Laps', { low: 1, high: 200, whole: true }), 2)
  .option('--seed <n>', 'of its unevenness', between('Seed', { low: 0, high: 0xffffff, whole: true }), 1)
  .option('--rate <hertz>', 'sample rate', between('Rate', { low: 8000, high: 192_000, whole: true }), 48_000)
  .option('--json', 'its strokes as JSON', false)
  .action(async (options) => (await import('./drummer')).runDrummer(options));

program
  .command('play')
  .description('play a kit of the workspace, or a bundle, by a MIDI file into a WAV file, as the application plays it')
  .argument('<kit>', 'name or id of the kit, or KIT.zip')
  .requiredOption('--midi <file>', 'a Standard MIDI File')
  .requiredOption('--out <file>', 'where the WAV file goes')
  .option('--stems <folder>', 'also a WAV file for each pad that sounds, before the limiter')
  .option('--rate <hertz>', 'sample rate', between('Rate', { low: 8000, high: 192_000, whole: true }), 48_000)
  .addOption(new Option('--encoding <name>', 'how samples are written').choices(['s16', 's24', 'f32']).default('s24'))
  .option('--workspace <file>', 'the workspace file')
  .option('--json', 'what was played as JSON', false)
  .action(async (name, options) => (await import('./play')).runPlay(name, options));

program
  .command('bundle')
  .description('tell what is in a bundle, the zip of a kit, and whether it can be opened')
  .argument('[file...]', 'zips as Export makes them')
  .option('--check', 'read every sample to its end', false)
  .option('--schema', 'the JSON Schema of the description in a bundle, and nothing else', false)
  .option('--json', 'one JSON object a line', false)
  .action(async (files, options) => (await import('./bundle')).runBundle(files, options));

program
  .command('serve')
  .description('run the application')
  .option('--port <n>', 'port on 127.0.0.1; 0 for any free one', port, 4280)
  .option('--workspace <file>', 'the workspace file')
  .action(async (options) => (await import('./serve')).runServe(options));

program
  .command('demo')
  .description('run the application with the demo recordings')
  .option('--port <n>', 'port on 127.0.0.1; 0 for any free one', port, 4280)
  .option('--workspace <file>', 'the workspace file')
  .option('--only-make', 'make the demo workspace and stop', false)
  .action(async (options) => (await import('./demo')).runDemo(options));

program
  .command('check')
  .description('verify every row and block of a workspace')
  .option('--workspace <file>', 'the workspace file')
  .option('--mend', 'do what can be done about faults, saying it first; nothing that a person made is dropped')
  .option('--json', 'the findings as JSON', false)
  .action(async (options) => (await import('./check')).runCheck(options));

program
  .command('backup')
  .description('copy the workspace, also while the application runs')
  .argument('<file>', 'where the copy goes')
  .option('--workspace <file>', 'the workspace file')
  .option('--json', 'what was done as JSON', false)
  .action(async (file, options) => (await import('./backup')).runBackup(file, options));

program.parseAsync().catch((error: unknown) => {
  if (error instanceof CommanderError) {
    // Commander has printed its own errors; out-of-range values are reported here.
    if (!error.code.startsWith('commander.')) process.stderr.write(`${error.message}\n`);
    process.exitCode = error.exitCode === 0 ? 0 : 2;
  } else {
    process.stderr.write(`${(error as Error).message}\n`);
    process.exitCode = 1;
  }
});
