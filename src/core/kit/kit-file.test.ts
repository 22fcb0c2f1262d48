import { readFileSync } from 'node:fs';
import Ajv2020 from 'ajv/dist/2020';
import { filePad, kitFile, kitSchema } from './kit-file';
import { PAD_INITIAL } from './parameters';

const pad = {
  ...{ id: 'p', kitId: 'k', position: 3, name: 'Kick', family: 'kick' as const },
  ...{ ...PAD_INITIAL, levelDb: -3, pan: 0.25, semitones: 7 },
};

const zone = (lowVelocity: number, highVelocity: number) => ({
  sample: 'samples/Kick.wav',
  lowVelocity,
  highVelocity,
  loop: null,
});

// Against JSON Schema 2020-12 as another program reads it.
const validate = new Ajv2020({ strict: false }).compile(kitSchema());

test('a kit file tells what its WAV files do not hold, and holds by its own schema', () => {
  const file = kitFile({ name: 'Sluice' }, { pads: [filePad(pad, [zone(1, 127)], 2)] });
  expect(validate(JSON.parse(JSON.stringify(file)))).toBe(true);
  expect(file.pads).toEqual([
    {
      ...{ position: 3, name: 'Kick', family: 'kick', role: '', note: 47, bus: null, sources: [] },
      zones: [zone(1, 127)],
      settings: { levelDb: 2, pan: 0.25 },
    },
  ]);
});

test('samples that differ by velocity are told with their ranges', () => {
  const file = kitFile({ name: 'Sluice' }, { pads: [filePad(pad, [zone(1, 80), zone(81, 127)], 2)] });
  expect(validate(JSON.parse(JSON.stringify(file)))).toBe(true);
  expect(file.pads[0]?.zones.map(({ lowVelocity }) => lowVelocity)).toEqual([1, 81]);
});

test('the schema knows limits, units and initial values', () => {
  const file = kitFile({ name: 'Sluice' }, { pads: [filePad(pad, [zone(1, 127)], 2)] });
  const [first] = file.pads;
  const wrong = { ...file, pads: [{ ...first, settings: { levelDb: 25 } }] };
  expect(validate(wrong)).toBe(false);
  expect(validate.errors?.[0]).toMatchObject({ keyword: 'maximum', instancePath: '/pads/0/settings/levelDb' });
  expect(JSON.stringify(kitSchema())).toContain('"title":"Level","default":0,"unit":"dB"');
});

test('the schema in the docs is that of the code; `undercroft bundle --schema` writes it', () => {
  expect(JSON.parse(readFileSync('docs/kit.schema.json', 'utf8'))).toEqual(JSON.parse(JSON.stringify(kitSchema())));
});
