import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { detectOnsets } from '../../src/core/onset/detect';
import { selectOnsets } from '../../src/core/onset/select';
import { TUNING } from '../accuracy/fonts';
import { makeItems } from '../accuracy/items';
import { GROUPS } from '../accuracy/patterns';
import { addScores, fMeasure, quantile, score } from '../accuracy/score';

const items = makeItems(TUNING, [1, 2, 3], join(tmpdir(), 'undercroft-tuning'));
const c = items.map((i) => detectOnsets(i.samples, i.sampleRate));
for (const spacingMs of [5, 12, 15, 18, 20])
  for (const sensitivity of [0.5, 0.55]) {
    const s = (w: number, g?: string) =>
      addScores(
        items.flatMap((it, i) =>
          g && it.group !== g
            ? []
            : [
                score(
                  selectOnsets(c[i] ?? [], { sensitivity, spacingMs }, it.sampleRate).map(
                    (x) => x.frame / it.sampleRate,
                  ),
                  it.truth,
                  w,
                ),
              ],
        ),
      );
    const all = s(0.05);
    console.log(
      spacingMs,
      sensitivity,
      fMeasure(all).toFixed(4),
      fMeasure(s(0.005)).toFixed(3),
      fMeasure(s(0.002)).toFixed(3),
      'p95',
      quantile(all.errorsMs.map(Math.abs), 0.95).toFixed(2),
      GROUPS.map((g) => `${g.slice(0, 5)} ${fMeasure(s(0.05, g)).toFixed(3)}/${fMeasure(s(0.005, g)).toFixed(3)}`).join(
        ' ',
      ),
    );
  }
