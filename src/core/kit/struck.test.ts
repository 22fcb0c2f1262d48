import { HIT_INITIAL } from '../hit/initial';
import { audioKey, isPlain, recordingsOf, type TreatedHit } from '../hit/key';
import { renderHit } from '../hit/render';
import { filled } from '../parameter/values';
import { frameCount } from '../signal/audio';
import { voiceKey } from '../voice/key';
import { VOICE_PARAMETERS } from '../voice/parameters';
import { renderVoice } from '../voice/render';
import { VOICE_RATE } from '../voice/source';
import { LAYER_INITIAL } from './parameters';
import { struckLayers } from './struck';

const unread = () => {
  throw new Error('A stroke of a voice is read from no recording.');
};

function voiced(set: Partial<TreatedHit['voice']> = {}): TreatedHit {
  return {
    ...HIT_INITIAL,
    ...{ id: 'hit-of-a-voice', name: 'Kick', family: 'kick', recordingId: 'recording-1', startFrame: 0, endFrame: 10 },
    ...{ sliceId: null, steps: [], voice: { settings: { toneHz: 55 }, seed: 7, velocity: 100, ...set } },
  };
}

const layerOf = (id: string) => ({ ...LAYER_INITIAL, id, padId: 'pad-00000001', hitId: 'hit-of-a-voice', position: 0 });

describe('a struck voice as the source of a hit', () => {
  test('sounds as the voice does, sample by sample, whatever its recording holds', () => {
    const { audio } = renderHit(voiced(), unread);
    const wanted = renderVoice(filled(VOICE_PARAMETERS, { toneHz: 55 }), 100, 7, VOICE_RATE);
    expect(audio).toEqual(wanted);
    expect(isPlain(voiced())).toBe(false);
    expect(recordingsOf(voiced())).toEqual(['recording-1']);
  });

  test('is treated as any sound', () => {
    const step = { id: 'step-0000001', hitId: 'hit-of-a-voice', position: 0, active: true, processor: 'reverse' };
    const treated = { ...voiced(), steps: [step] } as unknown as TreatedHit;
    const [plain, turned] = [renderHit(voiced(), unread).audio, renderHit(treated, unread).audio];
    expect(turned.channels[0]?.at(-1)).toBeCloseTo(plain.channels[0]?.[0] ?? 0, 6);
  });

  test('is told from others by what it sounds like, not by the order of its settings', () => {
    const key = (settings: object) => voiceKey({ settings, seed: 1, velocity: 127 });
    expect(key({ toneHz: 50, sweep: 3 })).toBe(key({ sweep: 3, toneHz: 50 }));
    expect(key({ toneHz: 50 })).not.toBe(key({ toneHz: 51 }));
    expect(audioKey(voiced())).not.toBe(audioKey(voiced({ seed: 8 })));
    expect(audioKey(voiced())).not.toBe(audioKey({ ...voiced(), voice: null }));
  });
});

describe('a pad with a voice', () => {
  test('has strokes that differ at every velocity, the softer ones shorter, and plays one of them', () => {
    const layers = struckLayers([{ layer: layerOf('layer-00000001'), hit: voiced() }]);
    for (let velocity = 1; velocity <= 127; velocity++) {
      const playing = layers.filter(({ layer }) => layer.lowVelocity <= velocity && layer.highVelocity >= velocity);
      expect(playing).toHaveLength(4);
      expect(new Set(playing.map(({ hit }) => audioKey(hit))).size).toBe(4);
      expect(playing.every(({ layer }) => layer.isTake)).toBe(true);
    }
    expect(new Set(layers.map(({ hit }) => hit.id)).size).toBe(layers.length);
    const length = (n: number) => frameCount(renderHit(layers.at(n)?.hit as TreatedHit, unread).audio);
    expect(length(0)).toBeLessThan(length(-4));
  });

  test('has one stroke a range where no variation is wished, and keeps to the range of its layer', () => {
    const steady = voiced({ settings: { variation: 0 } });
    expect(struckLayers([{ layer: layerOf('layer-00000001'), hit: steady }])).toHaveLength(3);
    const narrow = { ...layerOf('layer-00000001'), lowVelocity: 60, highVelocity: 80 };
    const [only, ...more] = struckLayers([{ layer: narrow, hit: steady }]);
    expect([only?.layer.lowVelocity, only?.layer.highVelocity, more]).toEqual([60, 80, []]);
  });

  test('plays one stroke beside other voices or takes, which would alternate with it', () => {
    const two = ['layer-00000001', 'layer-00000002'].map((id) => ({ layer: layerOf(id), hit: voiced() }));
    expect(struckLayers(two)).toBe(two);
    const plain = { ...voiced(), voice: null };
    const beside = [
      { layer: layerOf('layer-00000001'), hit: voiced() },
      { layer: layerOf('layer-00000002'), hit: plain },
    ];
    expect(struckLayers(beside).filter(({ layer }) => !layer.isTake)).toHaveLength(1);
  });
});
