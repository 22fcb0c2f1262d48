import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root, run } from './run.mjs';

/** Installs the npm packages when the lock file is not the one they were installed from. */
export function installPackages() {
  const stamp = join(root, 'node_modules', '.undercroft-installed');
  const wanted =
    createHash('sha256')
      .update(readFileSync(join(root, 'package-lock.json')))
      .digest('hex') + process.version;
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
  console.log('Installing packages (the database is compiled, which takes a few minutes the first time) ...');
  run('npm', ['install', '--no-audit', '--no-fund', '--loglevel=error']);
  writeFileSync(stamp, wanted);
}

/** Debian packages of the tests: a browser, and the outside references. */
const DEBIAN = {
  chromium: '/usr/bin/chromium',
  sox: '/usr/bin/sox',
  'sndfile-programs': '/usr/bin/sndfile-info',
  'aubio-tools': '/usr/bin/aubioonset',
  fluidsynth: '/usr/bin/fluidsynth',
  ffmpeg: '/usr/bin/ffmpeg',
  midicsv: '/usr/bin/midicsv',
  unzip: '/usr/bin/unzip',
};
const FONTS = {
  'timgm6mb-soundfont': '/usr/share/sounds/sf2/TimGM6mb.sf2',
  'csound-soundfont': '/usr/share/sounds/sf2/sf_GMbank.sf2',
  'denemo-data': '/usr/share/sounds/sf2/A320U.sf2',
  'minuet-data': '/usr/share/minuet/soundfonts/GeneralUser-v1.47.sf2',
  'sonic-pi-samples': '/usr/share/sonic-pi/samples/drum_snare_hard.flac',
  'chuck-data': '/usr/share/doc/chuck-data/examples/data/snare.wav',
  'opl3-soundfont': '/usr/share/sounds/sf2/OPL-3_FM_128M.sf2',
  freepats: '/etc/timidity/freepats.cfg',
  timidity: '/usr/bin/timidity',
  'fluid-soundfont-gm': '/usr/share/sounds/sf2/FluidR3_GM.sf2',
  'avldrums.lv2-soundfont': '/usr/share/sounds/sf2/Black_Pearl_4_LV2.sf2',
};

export function installReferences(withFonts) {
  const wanted = { ...DEBIAN, ...(withFonts ? FONTS : { 'timgm6mb-soundfont': FONTS['timgm6mb-soundfont'] }) };
  const missing = Object.keys(wanted).filter((name) => !existsSync(wanted[name]));
  if (missing.length === 0) return;
  console.log(`Installing Debian packages: ${missing.join(', ')} ...`);
  const sudo = process.getuid?.() === 0 ? [] : ['sudo'];
  const apt = (...args) => {
    const [command, ...rest] = [...sudo, 'apt-get', ...args];
    execFileSync(command, rest, {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    });
  };
  apt('update', '-qq');
  apt('install', '-y', '-qq', '--no-install-recommends', ...missing);
}
