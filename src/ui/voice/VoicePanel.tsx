import type { HitView } from '@/contract/views';
import { sparse } from '@/core/parameter/values';
import type { VoiceSource } from '@/core/voice/key';
import { VOICE_PARAMETERS, type VoiceSettings } from '@/core/voice/parameters';
import { settingsOf } from '@/core/voice/source';
import { useCommands } from '../data/commit';
import { dropDraft, setDraft } from '../data/drafts';
import { ParameterRows } from '../parts/ParameterRows';

type Key = keyof typeof VOICE_PARAMETERS;

/** The rows by the part of the voice they belong to, a column each. */
const COLUMNS: readonly (readonly [name: string, keys: readonly Key[]])[] = [
  ['Tone', ['toneDb', 'toneHz', 'sweep', 'sweepMs', 'toneAttackMs', 'toneDecayMs', 'secondRatio', 'second']],
  ['Noise', ['noiseDb', 'noiseKind', 'noiseHz', 'noiseQ', 'noiseAttackMs', 'noiseDecayMs', 'bursts', 'spacingMs']],
  [
    'Metal and click',
    ['metalDb', 'metalHz', 'metalStretch', 'metalTilt', 'metalDecayMs', 'metalDamping', 'clickDb', 'clickHz'],
  ],
  ['All of it', ['levelDb', 'driveDb', 'room', 'roomS', 'softDb', 'softDark', 'variation']],
];

/** The settings of a hit that is a struck voice; what is turned is heard at once, by the hit and by the pads that play it. */
export function VoicePanel({ hit, voice }: { hit: HitView; voice: VoiceSource }) {
  const { commit } = useCommands();
  const values = settingsOf(voice);
  const withSet = (set: Partial<VoiceSettings>): VoiceSource => ({
    ...voice,
    settings: sparse(VOICE_PARAMETERS, { ...values, ...set }),
  });
  const change = (label: string, next: VoiceSource) => {
    void commit(label, [{ op: 'update', doc: 'hit', id: hit.id, rev: hit.rev, set: { voice: next } }]);
    dropDraft('hit', hit.id);
  };
  return (
    <section aria-label="Voice" className="flex min-w-0 flex-1 overflow-y-auto px-2">
      {COLUMNS.map(([name, keys]) => (
        <fieldset key={name} className="min-w-0 flex-1 px-2 pt-1">
          <legend className="sr-only">{name}</legend>
          <ParameterRows
            of={VOICE_PARAMETERS}
            keys={keys}
            values={values}
            onPreview={(key, value) =>
              value === null
                ? dropDraft('hit', hit.id)
                : setDraft('hit', hit.id, { voice: withSet({ [key]: value } as Partial<VoiceSettings>) })
            }
            onSet={(said, set) => change(`changed the ${said} of ${hit.name}`, withSet(set))}
          />
          {keys.includes('variation') && (
            <button
              type="button"
              className="mt-1 rounded px-1 text-verdigris hover:underline"
              title="Another stroke: no two are the same"
              onClick={() => change(`struck ${hit.name} again`, { ...voice, seed: (voice.seed + 1) >>> 0 })}
            >
              another stroke
            </button>
          )}
        </fieldset>
      ))}
    </section>
  );
}
