import { oneLine } from '../naming/safe-names';

/** One playable sound of an instrument, in the terms SFZ shares with every sampler. */
export interface SfzRegion {
  /** Path from the SFZ file's folder. */
  readonly sample: string;
  readonly note: number;
  readonly levelDb: number;
  /** -1 left .. 1 right, equal power. */
  readonly pan: number;
  readonly held: boolean;
  readonly chokeGroup: number;
  readonly label: string;
}

/**
 * An SFZ version 1 file (rgc:audio "SFZ format" specification, opcodes sample, key, pitch_keycenter, volume, pan,
 * loop_mode, group, off_by, off_mode, ampeg_release). One region a pad. Velocity follows the format's default curve, the
 * square, which is the one this project plays. What level a centred pan has, SFZ leaves to the player.
 */
export function writeSfz(title: string, regions: readonly SfzRegion[]): string {
  const lines = [`// ${oneLine(title)}`, '<group>', 'amp_veltrack=100', ''];
  for (const region of regions) {
    lines.push(
      '<region>',
      `// ${oneLine(region.label)}`,
      `sample=${region.sample}`,
      `key=${region.note}`,
      `pitch_keycenter=${region.note}`,
    );
    lines.push(`volume=${figure(region.levelDb)}`);
    lines.push(`pan=${figure(region.pan * 100)}`);
    lines.push(`loop_mode=${region.held ? 'no_loop' : 'one_shot'}`);
    if (region.held) lines.push('ampeg_release=0.06');
    if (region.chokeGroup > 0) lines.push(`group=${region.chokeGroup}`, `off_by=${region.chokeGroup}`, 'off_mode=fast');
    lines.push('');
  }
  return lines.join('\n');
}

function figure(value: number): string {
  return String(Math.round(value * 1000) / 1000);
}
