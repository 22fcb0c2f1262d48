import { readFileName } from './file-names';

test.each([
  ['Kick_Oak_01.wav', 'kick'],
  ['BD round 3.aif', 'kick'],
  ['KickDrum-12.wav', 'kick'],
  ['snare rimshot 2.wav', 'rim'],
  ['SD14.wav', 'snare'],
  ['HatClosed_01.wav', 'closed hat'],
  ['closed hi-hat (tight).flac', 'closed hat'],
  ['Open Hat 4.wav', 'open hat'],
  ['HH Open long.wav', 'open hat'],
  ['hihat.wav', 'closed hat'],
  ['Floor Tom 14.wav', 'tom'],
  ['shelf/toms/Crash roof.wav', 'cymbal'],
  ['Hand Clap dry.wav', 'clap'],
  ['Cowbell low.wav', 'percussion'],
  ['Bass note.wav', 'tonal'],
  ['vinyl noise.wav', 'effect'],
  // Words inside words are none.
  ['Chatter in the yard.wav', null],
  ['Custom house.wav', null],
  ['Tomorrow.wav', null],
])('%s is a %s', (name, family) => expect(readFileName(name).family).toBe(family));

test('tempo, key and note are read where they are plainly said', () => {
  expect(readFileName('Loop_97.5bpm_F#m.wav')).toMatchObject({ tempoBpm: 97.5, key: 'F# minor' });
  expect(readFileName('BPM 128 break (A minor).wav')).toMatchObject({ tempoBpm: 128, key: 'A minor' });
  expect(readFileName('marimba_C#4.wav')).toMatchObject({ note: 61, family: 'tonal' });
  expect(readFileName('Bell A-1.wav')).toMatchObject({ note: 9 });
  expect(readFileName('take 120.wav')).toMatchObject({ tempoBpm: null, key: null, note: null });
  expect(readFileName('999bpm.wav').tempoBpm).toBeNull();
});
