import { Command, CommanderError } from 'commander';
import { runCheck } from './check';
import { runDemo } from './demo';
import { runKit } from './kit';
import { runOnsets } from './onsets';
import { runServe } from './serve';

/** The `undercroft` command. Exit code 0 good, 1 failed on some file, 2 wrong use. */
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
  .option('--spacing <ms>', 'least time between onsets', between('a spacing in ms', 5, 1000))
  .option('--json', 'one JSON object a line', false)
  .action(runOnsets);

program
  .command('kit')
  .description('make a kit of one loop: its contiguous slices on pads, written as files')
  .argument('<file...>')
  .requiredOption('--out <folder>', 'where the files go')
  .option('--formats <list>', 'of wav, sfz, bundle', 'wav,sfz')
  .option('--sensitivity <0..1>', 'how faint an onset may be', sensitivity)
  .option('--json', 'one JSON object a line', false)
  .action(runKit);

program
  .command('serve')
  .description('run the application')
  .option('--port <n>', 'port on 127.0.0.1; 0 for any free one', port, 4280)
  .option('--workspace <file>', 'the workspace file')
  .action(runServe);

program
  .command('demo')
  .description('run the application with the demo recordings')
  .option('--port <n>', 'port on 127.0.0.1; 0 for any free one', port, 4280)
  .option('--workspace <file>', 'the workspace file')
  .option('--only-make', 'make the demo workspace and stop', false)
  .action(runDemo);

program
  .command('check')
  .description('verify every row and block of a workspace')
  .option('--workspace <file>', 'the workspace file')
  .option('--json', 'the findings as JSON', false)
  .action(runCheck);

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
