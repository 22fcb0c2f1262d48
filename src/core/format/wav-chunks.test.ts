import { WavChunks } from './wav-chunks';

const ascii = (text: string) => [...new TextEncoder().encode(text)];
const u32 = (...values: number[]) => [...new Uint8Array(Uint32Array.from(values).buffer)];
const sub = (id: string, body: number[]) => [
  ...ascii(id),
  ...u32(body.length),
  ...body,
  ...(body.length % 2 ? [0] : []),
];

function say(frames: number, ...chunks: [string, number[]][]) {
  const all = new WavChunks();
  for (const [id, body] of chunks) all.take(id, Uint8Array.from(body));
  return { said: all.said(frames), warnings: all.warnings };
}

const cue = (...points: [id: number, frame: number][]): [string, number[]] => [
  'cue ',
  u32(points.length, ...points.flatMap(([id, frame]) => [id, 0, 0x61746164, 0, 0, frame])),
];

test('cue points with labels and lengths are marks and regions', () => {
  const adtl = [
    ...ascii('adtl'),
    ...sub('labl', [...u32(1), ...ascii('gate'), 0]),
    ...sub('note', [...u32(2), ...ascii('rain'), 0]),
    ...sub('ltxt', [...u32(2, 500), ...ascii('rgn '), 0, 0, 0, 0, 0, 0, 0, 0]),
  ];
  const { said } = say(10_000, cue([2, 4000], [1, 100]), ['LIST', adtl]);
  expect(said?.marks).toEqual([
    { frame: 100, length: 0, label: 'gate' },
    { frame: 4000, length: 500, label: 'rain' },
  ]);
});

test('marks after the end are left out, and that is said; a count that lies is not believed', () => {
  const { said, warnings } = say(1000, cue([1, 10], [2, 5000]));
  expect(said?.marks).toHaveLength(1);
  expect(warnings.join()).toMatch(/1 of the file's marks lie after its end/);
  expect(say(1000, ['cue ', [...u32(4_000_000_000), ...u32(1, 0, 0, 0, 0, 7)]]).said?.marks).toEqual([
    { frame: 7, length: 0, label: '' },
  ]);
});

test('loops and root note of a sampler chunk; the last frame of a loop is played', () => {
  const half = 2 ** 31;
  const body = u32(0, 0, 22675, 61, half, 0, 0, 1, 0, 0, 0, 200, 799, 0, 0);
  expect(say(1000, ['smpl', body]).said).toMatchObject({
    rootNote: 61,
    rootCents: 50,
    loops: [{ startFrame: 200, endFrame: 800 }],
  });
  // A loop past the end is none.
  expect(say(700, ['smpl', body]).said?.loops).toEqual([]);
});

test('an instrument chunk gives the root where no sampler chunk does', () => {
  expect(say(10, ['inst', [48, 0xf6, 0, 0, 127, 1, 127]]).said).toMatchObject({ rootNote: 48, rootCents: -10 });
});

test('INFO and broadcast texts are tags; control characters are taken out', () => {
  const info = [
    ...ascii('INFO'),
    ...sub('INAM', ascii('The\u0007 gate')),
    ...sub('IBPM', ascii('97.5')),
    ...sub('XXXX', ascii('no')),
  ];
  const bext = new Uint8Array(602);
  bext.set(ascii('Take 3, upstairs'), 0);
  bext.set(ascii('2024-03-11'), 320);
  new DataView(bext.buffer).setUint32(338, 96_000, true);
  const { said } = say(10, ['LIST', info], ['bext', [...bext]]);
  expect(said?.tags).toEqual([
    { name: 'title', text: 'The  gate' },
    { name: 'tempo', text: '97.5' },
    { name: 'description', text: 'Take 3, upstairs' },
    { name: 'date', text: '2024-03-11' },
  ]);
  expect(said?.tempoBpm).toBe(97.5);
  expect(said?.timeReference).toBe(96_000);
});

test('text that is no UTF-8 is read as Latin-1', () => {
  const info = [...ascii('INFO'), ...sub('INAM', [0x46, 0xe4, 0x68, 0x72, 0x65])];
  expect(say(10, ['LIST', info]).said?.tags[0]?.text).toBe('Fähre');
});
