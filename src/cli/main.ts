import { Command, CommanderError, Option } from 'commander';
import { BANDS, NOTE_VALUES } from '@/core/onset/split';

/** The `undercroft` command; each part of it is loaded when it is asked for. Exit code 0 good, 1 failed on some file, 2 wrong use. */
const program = new Command('undercroft')
  .description('From a recording to a playable drum kit.')
  .exitOverride()
  .showHelpAfterError();

/** Reads a number in a range; another one is wrong use. */
const between = (what: string, low: number, high: number) => (text: string) => {
  const value = Number(text);
  if (text.trim() === '' || !(value >= low && value <= high))
    throw new CommanderError(2, 'undercroft.range', `error: ${what} lies between ${low} and ${high}; it was ${text}.`);
  return value;
};
const sensitivity = between('a sensitivity', 0, 1);
const port = between('a port', 0, 65535);

program
  .command('onsets')
  .description('find the onsets and slices of sound files')
  .argument('<file...>')
  .option('--sensitivity <0..1>', 'how faint an onset may be', sensitivity)
  .addOption(
    new Option('--split <way>', 'how slices are found')
      .choices(['attack', 'silence', 'grid', 'cues'])
      .default('attack'),
  )
  .option('--spacing <ms>', 'by attack: least time between onsets', between('a spacing in ms', 5, 1000))
  .addOption(new Option('--band <band>', 'by attack: what is listened to').choices(BANDS))
  .option(
    '--most <n>',
    'at most so many slices: the strongest attacks, the loudest sounds, the first of a grid or of marks',
    between('a number of slices', 1, 100_000),
  )
  .option('--pre-roll <ms>', 'by attack: start so long before it', between('a pre-roll in ms', 0, 500))
  .option(
    '--threshold <dBFS>',
    'by silence: silence lies under it; by default by the room tone',
    between('a threshold in dBFS', -120, 0),
  )
  .option('--shortest-sound <ms>', 'by silence', between('a shortest sound in ms', 2, 10_000))
  .option('--shortest-gap <ms>', 'by silence', between('a shortest gap in ms', 5, 20_000))
  .option('--lead-in <ms>', 'by silence: kept before each sound', between('a lead-in in ms', 0, 2000))
  .option('--tail <ms>', 'by silence: kept after each sound', between('a tail in ms', 0, 10_000))
  .option('--tempo <bpm>', 'by grid: quarter notes a minute; by default estimated', between('a tempo in BPM', 20, 400))
  .option('--beats <n>', 'by grid: beats in a bar', between('beats in a bar', 1, 32))
  .addOption(
    new Option('--beat-unit <n>', 'by grid: a beat is one such part of a whole note').choices(['2', '4', '8', '16']),
  )
  .addOption(new Option('--note-value <value>', 'by grid: length of a step').choices(NOTE_VALUES))
  .option(
    '--downbeat <frame>',
    'by grid: where the first bar begins',
    between('a downbeat in frames', 0, Number.MAX_SAFE_INTEGER),
  )
  .option('--pull <0..1>', 'by grid: how far lines follow the player', between('a pull', 0, 1))
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
  .command('kit')
  .description('make a kit of one loop: its contiguous slices on pads, written as files')
  .argument('<file...>')
  .requiredOption('--out <folder>', 'where the files go')
  .option('--formats <list>', 'of wav, sfz, bundle', 'wav,sfz')
  .option('--sensitivity <0..1>', 'how faint an onset may be', sensitivity)
  .option('--json', 'one JSON object a line', false)
  .action(async (files, options) => (await import('./kit')).runKit(files, options));

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
    // Commander has printed its own errors; a value out of range is ours to tell.
    if (!error.code.startsWith('commander.')) process.stderr.write(`${error.message}\n`);
    process.exitCode = error.exitCode === 0 ? 0 : 2;
  } else {
    process.stderr.write(`${(error as Error).message}\n`);
    process.exitCode = 1;
  }
});
