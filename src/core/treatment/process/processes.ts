import type { Parameters } from '../../parameter/parameter';
import type { Process } from '../processor';
import type { PROCESSORS, ProcessorName } from '../processors';
import { attack } from './attack';
import { bands } from './bands';
import { channels } from './channels';
import { clicks } from './clicks';
import { compressor } from './compressor';
import { dc } from './dc';
import { echo } from './echo';
import { envelope } from './envelope';
import { equaliser } from './equaliser';
import { fades } from './fades';
import { gate } from './gate';
import { length } from './length';
import { level } from './level';
import { limiter } from './limiter';
import { noise } from './noise';
import { reverse } from './reverse';
import { room } from './room';
import { saturation } from './saturation';
import { tempo } from './tempo';
import { trim } from './trim';
import { tune } from './tune';

/** The computation of every processor. */
const PROCESSES = {
  equaliser,
  tune,
  trim,
  length,
  tempo,
  fades,
  envelope,
  gate,
  attack,
  compressor,
  bands,
  saturation,
  limiter,
  noise,
  clicks,
  room,
  echo,
  level,
  reverse,
  channels,
  dc,
} satisfies {
  readonly [N in ProcessorName]: Process<(typeof PROCESSORS)[N]['parameters']>;
};

/** The computation of a processor of unspecified parameters: its values have been validated by its declarations. */
export function processOf(name: ProcessorName): Process<Parameters> {
  return PROCESSES[name] as unknown as Process<Parameters>;
}
