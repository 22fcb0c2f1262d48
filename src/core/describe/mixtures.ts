import type { Family } from '../family';
import { BROAD_BANDS } from './bands';
import { COHERENCE_FIGURES } from './coherence';
import { laidNetwork } from './laid-network';
import {
  type Beginning,
  beginningOf,
  type Explained,
  explain,
  type Fit,
  fitSecond,
  levelIn,
  type Misfit,
  misfit,
  NO_FIT,
  ZONE_FIGURES,
  zonesOf,
} from './mixture-fit';
import { MIXTURE_NETWORK } from './mixture-weights';
import type { Network } from './network';
import type { Sketch } from './sketch';

/** A slice among the others of its recording. */
export interface MixedSlice {
  readonly sketch: Sketch;
  readonly family: Family;
  readonly group: number;
  /** Foreign energy relative to its own, in dB. */
  readonly foreignDb: number;
}

/** Slices of one drum, barest first. */
export interface Drum {
  readonly group: number;
  readonly family: Family;
  readonly members: readonly number[];
}

/**
 * Whether a slice is no more like the sum than like its own drum alone; more like it; or like it wherever the other drum is
 * the louder, and quite unlike its own drum there.
 */
export type Evidence = 'none' | 'better' | 'evident';

/** Another drum that sounds in a slice. */
export interface MixedDrum {
  readonly family: Family;
  /** Index of the slice that stands for it. */
  readonly other: number;
  /** Its level relative to that slice, in dB. */
  readonly levelDb: number;
}

/** A candidate: a drum of another family that may sound in a slice too. */
export interface MixtureCase extends MixedDrum {
  /** How much speaks for it by the fits alone; the network is believed accordingly. */
  readonly evidence: Evidence;
  readonly inputs: Float32Array;
}

/** Maximum number of drums tried in each family. */
const MOST_OF_FAMILY = 4;
/** Maximum number of drums of its own family that a slice is compared with. */
const MOST_LIKE_IT = 6;
/** Quantiles of `levelIn` that are tried. */
const LEVELS = [0.15, 0.3, 0.5];
/** Maximum number of slices of its own drum that it is compared with. */
const MOST_OF_OWN = 8;
/** What is left over counts so much of what is missing. */
const LEFT_OVER = 0.3;
/** Two strokes fit under a slice equally well if the power missing differs by at most this, in dB. */
const AS_WELL_DB = 0.7;
/** The level by which slices of its own family are compared. */
const COMPARED_AT = 0.3;
/** The first coherence figure tells only whether waves were compared. */
const WAVE_FIGURES = COHERENCE_FIGURES - 1;
/** Number of coherence inputs, which come last; they are 0 where waves cannot be compared. */
export const MIXTURE_WAVES = 2 * WAVE_FIGURES;

/** How two slices compare: zones of their sketches, and their waves. */
interface Comparison {
  readonly zones: Float64Array;
  readonly waves: Float32Array;
}

const NO_COMPARISON: Comparison = {
  zones: new Float64Array(ZONE_FIGURES),
  waves: new Float32Array(WAVE_FIGURES),
};

/** A sum further off than this, in dB, or hardly better than its first part, says nothing. */
const MOST_OFF_DB = 9;
const LEAST_GAIN = -0.05;
/** What is evident: differences where the second is the louder, at most and alone at least, in dB; where, as a share; the gain. */
const EVIDENT = { offDb: 2, aloneDb: 9, share: 0.15, missing: 0.1, gain: -0.2 } as const;
/** Coherence in a band by which a sound is known again; the lowest bands are so narrow that chance alone gives as much. */
const COHERENT = 0.6;
const FIRST_BAND = 2;
/** Share of the mean score of a drum's slices in the score of each. */
const SHARED = 0.3;
/** Scores from these on count as heard, as log odds. */
const LEAST_SCORE: Readonly<Record<Evidence, number>> = { none: Number.POSITIVE_INFINITY, better: 0.2, evident: -1.5 };

/**
 * Which other drums of a recording sound in its slices. Each slice is taken for the sum of the barest stroke of its own
 * family and the barest of another, as powers by band and moment; how well that fits, beside how well its own family
 * does alone, and how coherent the waves are, is judged by a small network (`npm run train-mixtures`). Not after a
 * publication; docs/listening.md has its figures. `coherence` gives the coherence figures of two slices.
 */
export class Mixtures {
  private readonly beginnings: readonly Beginning[];
  private readonly drumsOf = new Map<Family, Drum[]>();
  private readonly groups: ReadonlyMap<number, Drum>;

  constructor(
    private readonly slices: readonly MixedSlice[],
    drums: readonly Drum[],
    private readonly coherence: (a: number, b: number) => Float32Array,
  ) {
    this.beginnings = slices.map(({ sketch }) => beginningOf(sketch));
    this.groups = new Map(drums.map((drum) => [drum.group, drum]));
    for (const drum of drums) this.drumsOf.set(drum.family, [...(this.drumsOf.get(drum.family) ?? []), drum]);
  }

  /** For each slice the other drums that sound in it, the surest first. */
  heard(network: Network = MIXTURE_NETWORK): MixedDrum[][] {
    return this.judged(network).map((some) =>
      some
        .filter(({ score, evidence }) => score >= LEAST_SCORE[evidence])
        .sort((a, b) => b.score - a.score)
        // What is left is explained by one drum; a further one has to be likely by itself.
        .filter(({ score }, n) => n === 0 || score >= LEAST_SCORE.better)
        .map(({ family, other, levelDb }) => ({ family, other, levelDb })),
    );
  }

  /** For each slice its cases with scores as log odds. Slices of one drum share part of theirs. */
  private judged(network: Network): (MixtureCase & { readonly score: number })[][] {
    const net = laidNetwork(network);
    const own = this.slices.map((_, i) =>
      this.cases(i).map((one) => ({ ...one, score: net.run(one.inputs)[0] as number })),
    );
    const sums = new Map<string, { score: number; count: number }>();
    const keyOf = (i: number, family: Family) => `${this.slices[i]?.group} ${family}`;
    for (const [i, cases] of own.entries())
      for (const { family, score } of cases) {
        const sum = sums.get(keyOf(i, family)) ?? { score: 0, count: 0 };
        sums.set(keyOf(i, family), { score: sum.score + score, count: sum.count + 1 });
      }
    return own.map((cases, i) =>
      cases.map((one) => {
        const { score, count } = sums.get(keyOf(i, one.family)) as { score: number; count: number };
        return { ...one, score: (1 - SHARED) * one.score + SHARED * (score / count) };
      }),
    );
  }

  /** The drums that a slice may hold beside its own, one of each family, with the network's inputs. */
  cases(i: number): MixtureCase[] {
    const whole = this.beginnings[i] as Beginning;
    const { family, group } = this.slices[i] as MixedSlice;
    const { onOther, onOwn } = this.basesOf(i);
    const base = onOther ?? onOwn;
    const like = onOwn ?? onOther;
    const bases = [onOther, onOwn];
    const explained = bases.map((at) => this.explainedBy(whole, at));
    const byBase = base === null ? NO_COMPARISON : this.compared(i, base);
    return [...this.drumsOf].flatMap(([other, drums]): MixtureCase[] => {
      // A person may have given it another family than its group's.
      const strange = drums.filter((drum) => drum.group !== group);
      const some = barestOf(strange.slice(0, MOST_OF_FAMILY));
      if (other === family || some.length === 0) return [];
      const fits = explained.map((ways) => this.bestFit(ways, some));
      const { at, fit: chosen } = fits[onOther === null && onOwn !== null ? 1 : 0] as (typeof fits)[number];
      const own = (this.beginnings[at] as Beginning).loudest;
      const levelDb = 10 * Math.log10((chosen.level * whole.loudest) / (own + 1e-20) + 1e-9);
      const byOther = this.compared(i, at);
      const inputs = [
        ...fits.flatMap(({ fit }, n) => [...fitFigures(fit), bases[n] === null ? 0 : 1]),
        ...[...byOther.zones, ...byBase.zones],
        ...[at, base, i].map((k) => (k === null ? 0 : bareness((this.slices[k] as MixedSlice).foreignDb))),
        ...(like === null ? NO_COMPARISON.zones : this.zones(at, like)),
        ...[...byOther.waves, ...byBase.waves],
      ];
      const [onStrange, onLike] = fits.map(({ fit }) => improves(fit));
      // Of a drum that stands on one shelf only, all slices may hold both: then the other's own wave has to be in it.
      const isKnown =
        onOther !== null || onOwn === null || Math.max(...byOther.waves.subarray(FIRST_BAND, BROAD_BANDS)) > COHERENT;
      const isBetter = onLike === true || (onStrange === true && isKnown);
      const isEvident = fits.some(({ fit }, n) => bases[n] !== null && explains(fit));
      const evidence = isEvident ? 'evident' : isBetter ? 'better' : 'none';
      return [{ family: other, other: at, levelDb, evidence, inputs: Float32Array.from(inputs) }];
    });
  }

  /** Strokes of its own family that lie under a slice: the closest of another group, and the barest of its own. */
  private basesOf(i: number): { readonly onOther: number | null; readonly onOwn: number | null } {
    const whole = this.beginnings[i] as Beginning;
    const { family, group } = this.slices[i] as MixedSlice;
    const alike = (this.drumsOf.get(family) ?? []).filter((drum) => drum.group !== group);
    const own = this.groups.get(group)?.members.slice(0, MOST_OF_OWN + 1) ?? [];
    return {
      onOther: this.closest(whole, barestOf(alike.slice(0, MOST_LIKE_IT))),
      onOwn: this.leastUnder(whole, own.filter((k) => k !== i).slice(0, MOST_OF_OWN)),
    };
  }

  private explainedBy(whole: Beginning, at: number | null): Explained[] {
    if (at === null) return [explain(whole, null, 0)];
    const part = this.beginnings[at] as Beginning;
    return LEVELS.map((share) => explain(whole, part, levelIn(whole, part, share)));
  }

  private bestFit(ways: readonly Explained[], some: readonly number[]): { readonly fit: Fit; readonly at: number } {
    let best = { fit: NO_FIT, at: some[0] as number };
    const usual = ways[ways.length >> 1] as Explained;
    for (const at of some) {
      const fit = fitSecond(usual, this.beginnings[at] as Beginning);
      if (fit.off < best.fit.off) best = { fit, at };
    }
    for (const way of ways) {
      if (way === usual) continue;
      const fit = fitSecond(way, this.beginnings[best.at] as Beginning);
      if (fit.off < best.fit.off) best = { fit, at: best.at };
    }
    return best;
  }

  private compared(a: number, b: number): Comparison {
    return { zones: this.zones(a, b), waves: this.coherence(a, b).subarray(1) };
  }

  private zones(a: number, b: number): Float64Array {
    const zones = zonesOf(this.beginnings[a] as Beginning, this.beginnings[b] as Beginning);
    return zones.map((db, k) => (k < ZONE_FIGURES / 2 ? db : db / 4));
  }

  /** Of some slices the one that lies best under another as its own drum; null of none. */
  private closest(whole: Beginning, some: readonly number[]): number | null {
    let [best, least]: [number | null, number] = [null, Number.POSITIVE_INFINITY];
    for (const at of some) {
      const { missing, left } = this.misfit(whole, at);
      const off = missing + LEFT_OVER * left;
      if (off < least) [best, least] = [at, off];
    }
    return best;
  }

  /** Of strokes that lie as well under another the one that leaves most over: of a drum's strokes some hold a second one. */
  private leastUnder(whole: Beginning, some: readonly number[]): number | null {
    const misfits = some.map((at) => ({ at, ...this.misfit(whole, at) }));
    const least = Math.min(...misfits.map(({ missing }) => missing));
    const under = misfits.filter(({ missing }) => missing <= least + AS_WELL_DB);
    return under.sort((a, b) => b.left - a.left)[0]?.at ?? null;
  }

  private misfit(whole: Beginning, at: number): Misfit {
    const part = this.beginnings[at] as Beginning;
    return misfit(whole, part, levelIn(whole, part, COMPARED_AT));
  }
}

/** The barest slice of each drum. */
function barestOf(drums: readonly Drum[]): number[] {
  return drums.flatMap(({ members }) => members.slice(0, 1));
}

function improves({ off, offAlone }: Fit): boolean {
  return off < MOST_OFF_DB && gainOf(off, offAlone) < LEAST_GAIN;
}

function explains({ off, offAlone, second, secondOff, secondOffAlone, missing }: Fit): boolean {
  const { offDb, aloneDb, share, gain } = EVIDENT;
  const isBetterThere = second > share && secondOff < offDb && secondOffAlone > aloneDb;
  return isBetterThere && missing < EVIDENT.missing && gainOf(off, offAlone) < gain;
}

/** How much less two differences in dB are, as a logarithm. */
function gainOf(off: number, offAlone: number): number {
  return Math.log((off + 0.3) / (offAlone + 0.3));
}

function fitFigures({ off, offAlone, second, secondOff, secondOffAlone, secondDb, missing, exceeded }: Fit): number[] {
  const gain = gainOf(off, offAlone);
  return [off / 5, offAlone / 5, gain, second, secondOff / 5, secondOffAlone / 5, secondDb / 10, missing, exceeded];
}

function bareness(foreignDb: number): number {
  return Math.max(-5, Math.min(1, foreignDb / 10));
}
