import { useHotkeys } from 'react-hotkeys-hook';
import type { HitView, RecordingView, ResolvedMember } from '@/contract/views';
import { MEMBER_PARAMETERS } from '@/core/layering/parameters';
import { clip } from '@/core/parameter/values';
import { useCommands } from '../data/commit';
import { useKitDesk } from '../pads/kit-context';
import { stretchOfHit } from '../pads/laying';
import { useActions } from '../parts/actions';
import { leaveControl, notInControl, pageKey } from '../parts/focus';
import { complain } from '../parts/notice';
import { useStatus } from '../shell/status';
import { openSound } from '../sound/open-sound';
import { setMember } from './edits';
import type { Building } from './use-building';
import { likeLayer, placed, withHits } from './variants';

interface Keyed {
  readonly hit: HitView;
  readonly hits: readonly HitView[];
  readonly recording: RecordingView;
  readonly building: Building;
  readonly chosen: ResolvedMember | undefined;
  readonly sampleRate: number;
  readonly onChoose: (memberId: string) => void;
  readonly onMove: (member: ResolvedMember, offsetFrames: number) => void;
}

/** The keys of a layered hit: nudges, which layer, one alone, with and without, other sounds in its place. */
export function useLayersKeys({ hit, hits, recording, building, chosen, sampleRate, onChoose, onMove }: Keyed): void {
  const { commit } = useCommands();
  const { lay } = useKitDesk();
  const { trial, setTrial, hear, repeats } = building;
  const nudge = (frames: number) => {
    leaveControl();
    if (chosen) onMove(chosen, clip(MEMBER_PARAMETERS.offsetFrames, chosen.offsetFrames + frames));
  };
  const ms = (n: number) => Math.max(1, Math.round((n / 1000) * sampleRate));
  const step = (by: number): ResolvedMember | undefined => {
    leaveControl();
    const at = hit.members.findIndex(({ id }) => id === chosen?.id);
    const next = hit.members[Math.max(0, Math.min(hit.members.length - 1, at + by))];
    if (next) onChoose(next.id);
    return next;
  };
  const alone = (by: number) => {
    const only = step(by);
    if (!only) return;
    const of = (one: HitView): HitView => ({
      ...one,
      members: one.members.map((m) => ({ ...m, alone: m.id === only.id, muted: false })),
    });
    if (repeats) setTrial({ name: 'alone', of });
    else hear(of(hit));
  };
  const without = () => {
    const of = (one: HitView): HitView => ({
      ...one,
      members: one.members.map((m) => (m.id === chosen?.id ? { ...m, muted: true, alone: false } : m)),
    });
    const isWithout = trial?.name === 'without';
    setTrial(isWithout ? null : { name: 'without', of });
    hear(isWithout ? hit : of(hit));
  };
  /** Puts the next sound of the library in the layer's place, lined up and as loud as the one before. */
  const exchange = async (by: number) => {
    leaveControl();
    if (!chosen) return;
    const like = likeLayer(hits, chosen, hit.id);
    const at = like.findIndex(({ id }) => id === chosen.hitId);
    const next = like[(at + by + like.length) % like.length];
    if (!next || next.id === chosen.hitId) return;
    const other = withHits(hit, new Map([[chosen.id, next]]));
    const { samples } = await openSound();
    const [variant] = await samples.variants(hit, [other], recording, 1);
    const place = variant?.members[hit.members.indexOf(chosen)];
    if (!variant || !place) return;
    void commit(`put ${next.name} in the place of ${chosen.hit.name} in ${hit.name}`.slice(0, 200), [
      setMember(chosen, { hitId: next.id, ...place }),
    ]);
    hear(placed(other, variant));
  };
  const exchanged = (by: number) => () => void exchange(by).catch((error: Error) => complain(error.message));
  useHotkeys('left', () => nudge(-1), pageKey);
  useHotkeys('right', () => nudge(1), pageKey);
  useHotkeys('ctrl+left', () => nudge(-ms(0.1)), pageKey);
  useHotkeys('ctrl+right', () => nudge(ms(0.1)), pageKey);
  useHotkeys('shift+left', () => nudge(-ms(1)), pageKey);
  useHotkeys('shift+right', () => nudge(ms(1)), pageKey);
  useHotkeys('up', () => step(-1), pageKey);
  useHotkeys('down', () => step(1), pageKey);
  useHotkeys('alt+up', () => alone(-1), pageKey);
  useHotkeys('alt+down', () => alone(1), pageKey);
  useHotkeys('ctrl+up', exchanged(-1), pageKey);
  useHotkeys('ctrl+down', exchanged(1), pageKey);
  useHotkeys('slash', without, pageKey);
  useHotkeys('space', () => hear(), pageKey);
  useHotkeys('enter', () => lay(stretchOfHit(hit, recording), null, 'next'), notInControl);
  useActions([
    { name: 'Hear with and without the layer', key: '/', run: without },
    { name: 'Another sound in the place of the layer', key: 'Ctrl ↓', run: exchanged(1) },
  ]);
  useStatus(
    '← → by a sample · Ctrl 0.1 ms · Shift 1 ms · ↑ ↓ layers · Alt ↑ ↓ one alone · / with and without · Ctrl ↑ ↓ another sound in its place · Space hear · Enter to a pad',
  );
}
