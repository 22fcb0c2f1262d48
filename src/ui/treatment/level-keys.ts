/** The parameter of a level by what it goes to. */
export const LEVEL_FIGURE = {
  gain: 'gainDb',
  peak: 'peakDbfs',
  'true-peak': 'truePeakDbtp',
  rms: 'rmsDbfs',
  loudness: 'loudnessLufs',
} as const;

/** A level shows the figure it goes to, and no other. */
export function levelKeys({ to }: { readonly to?: string }): readonly string[] {
  return ['to', LEVEL_FIGURE[(to ?? 'gain') as keyof typeof LEVEL_FIGURE], 'noiseDbfs'];
}
