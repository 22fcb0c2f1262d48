import { chancesOf } from '@/core/describe/chances';
import { Describer } from '@/core/describe/description';
import { guessFamily, likelyDrum } from '@/core/describe/family';
import { momentaryLufs } from '@/core/loudness/loudness';
import { frameCount, peakOf, rmsOf, toMono } from '@/core/signal/audio';
import { hzToNote, noteName, toDb } from '@/core/signal/units';
import { rounded } from './figures';
import { eachFile, loadFile } from './files';

/** Describes each file as one hit. */
export async function runDescribe(files: string[], { json }: { readonly json: boolean }): Promise<void> {
  await eachFile(files, async (file) => {
    const { audio } = await loadFile(file);
    const mono = toMono(audio);
    const frames = frameCount(audio);
    const sound = new Describer(audio.sampleRate).describe(mono, 0, frames);
    const guess = guessFamily(chancesOf(sound));
    const note = sound.root ? hzToNote(sound.root.hz) : null;
    const told = {
      file,
      family: guess.family,
      familyConfidence: rounded(guess.confidence),
      drumConfidence: rounded(guess.drum),
      contains: guess.contains,
      rootHz: sound.root ? rounded(sound.root.hz) : null,
      rootConfidence: sound.root ? rounded(sound.root.clarity) : null,
      rootNote: note ? noteName(note.note) : null,
      cents: note ? rounded(note.cents) : null,
      peakDb: rounded(toDb(peakOf(audio.channels))),
      rmsDb: rounded(toDb(rmsOf(audio.channels))),
      momentaryLufs: rounded(momentaryLufs(audio)),
      brightnessHz: rounded(sound.brightnessHz),
      durationMs: rounded((frames / audio.sampleRate) * 1000),
      attackMs: sound.envelope.attackMs,
      decay20Ms: sound.envelope.decay20Ms,
    };
    if (json) process.stdout.write(`${JSON.stringify(told)}\n`);
    else {
      const root =
        note && sound.root
          ? `, root ${noteName(note.note)} ${note.cents >= 0 ? '+' : ''}${note.cents.toFixed(0)} cents (${sound.root.hz.toFixed(1)} Hz)`
          : '';
      const none = likelyDrum(guess) ? '' : `, likely no drum (${Math.round((1 - guess.drum) * 100)} %)`;
      process.stdout.write(
        `${file}\t${guess.family} (${Math.round(guess.confidence * 100)} %)${none}${root}\t${told.momentaryLufs} LUFS\tpeak ${told.peakDb} dBFS\n`,
      );
    }
  });
}
