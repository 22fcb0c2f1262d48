'use client';

import { useEffect, useRef, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { HitView, KitView } from '@/contract/views';
import type { Layer, Pad } from '@/core/kit/model';
import { useCommands } from '../../data/commit';
import { useHits } from '../../data/queries';
import { useKitDesk } from '../../pads/kit-context';
import { tell } from '../../parts/notice';
import { soundNow } from '../../sound/open-sound';

const VELOCITY = 110;

/** Tries other hits of the pad's family on it, one after another at random: the one that fits is kept, or all are thrown back. */
export function RandomPick({ view, pad, layer }: { view: KitView; pad: Stored<Pad>; layer: Stored<Layer> }) {
  const { commit } = useCommands();
  const { data: hits } = useHits();
  /** What was there before the first try. */
  const [before, setBefore] = useState<{ readonly hitId: string; readonly name: string } | null>(null);
  const [tried, setTried] = useState<readonly string[]>([]);
  /** What is to be heard once the pad has taken it up. */
  const wanted = useRef<string | null>(null);
  const isReady = useKitDesk().padStates.get(pad.position) === 'ready';
  useEffect(() => {
    if (!isReady || wanted.current !== layer.hitId) return;
    wanted.current = null;
    soundNow()?.engine.strike(pad.position, VELOCITY);
  }, [isReady, layer.hitId, pad.position]);
  const others = (hits ?? []).filter(
    ({ id, family, binnedAt }) =>
      family === pad.family && binnedAt === null && id !== layer.hitId && id !== before?.hitId,
  );
  const play = (hitId: string, name: string, label: string) => {
    const isNamed = pad.role === '' && view.hits.some((hit) => hit.id === layer.hitId && hit.name === pad.name);
    const rename: Change[] = isNamed ? [{ op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set: { name } }] : [];
    void commit(label, [...rename, { op: 'update', doc: 'layer', id: layer.id, rev: layer.rev, set: { hitId } }]);
    wanted.current = hitId;
  };
  const another = () => {
    const fresh = others.filter(({ id }) => !tried.includes(id));
    const from: readonly HitView[] = fresh.length > 0 ? fresh : others;
    const hit = from[Math.floor(Math.random() * from.length)];
    if (!hit) return tell(`There is no other ${pad.family ?? 'hit without a family'} to pick.`);
    const now = view.hits.find(({ id }) => id === layer.hitId);
    if (!before && now) setBefore({ hitId: now.id, name: now.name });
    setTried(fresh.length > 0 ? [...tried, hit.id] : [hit.id]);
    play(hit.id, hit.name, `tried ${hit.name} on ${pad.name}`);
  };
  const end = () => {
    setBefore(null);
    setTried([]);
  };
  return (
    <span className="flex items-center gap-2 text-[12px]">
      <button
        type="button"
        className="quiet-button"
        title={`Another ${pad.family ?? 'hit without a family'} of yours in its place, heard at once`}
        onClick={another}
      >
        {before ? 'Another' : 'At random'}
      </button>
      {before && (
        <>
          <button type="button" className="text-verdigris hover:underline" onClick={end}>
            keep
          </button>
          <button
            type="button"
            className="text-verdigris hover:underline"
            onClick={() => {
              play(before.hitId, before.name, `threw back what was tried on ${pad.name}`);
              end();
            }}
          >
            throw back
          </button>
        </>
      )}
    </span>
  );
}
