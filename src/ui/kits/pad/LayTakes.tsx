'use client';

import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import type { Layer, Pad } from '@/core/kit/model';
import type { HeardTake } from '@/core/kit/takes';
import { MAX_LAYERS } from '@/core/play/limits';
import { useCommands } from '../../data/commit';
import { complain, tell } from '../../parts/notice';
import { openSound } from '../../sound/open-sound';
import { type LayWay, layTakes, oneTake, padTakes } from './pad-takes';

const WAYS: readonly (readonly [LayWay, string, string])[] = [
  ['as they are', 'Over velocity, by their loudness', 'Soft strokes stay as soft as they were played'],
  ['levelled', 'Over velocity, levelled', 'All as loud as the loudest: velocity alone makes them soft'],
  ['in turn', 'At every velocity, in turn', 'Strokes of one strength that alternate'],
];
const newId = () => crypto.randomUUID();

/** Brings the takes that listening found into play, and takes them out again. */
export function LayTakes({ view, pad, layers }: { view: KitView; pad: Stored<Pad>; layers: readonly Stored<Layer>[] }) {
  const { commit } = useCommands();
  const takes = padTakes(layers);
  const kept = view.variations.filter(({ padId }) => padId === pad.id);
  const count = takes.length + kept.length;
  if (count < 2) return <span className="text-soft">one take</span>;
  const lay = async (way: LayWay) => {
    if (layers.length + kept.length > MAX_LAYERS) {
      tell(`A pad has up to ${MAX_LAYERS} sounds; drop some of its ${count} takes first.`);
      return;
    }
    const heard = await heardTakes(
      view,
      [...takes, ...kept].map(({ hitId }) => hitId),
    );
    await commit(`laid the takes of ${pad.name}`, layTakes(view, pad, layers, heard, way, newId));
  };
  const keep = takes[0];
  return (
    <Menu as="span">
      <MenuButton className="rounded px-1 text-verdigris hover:underline">
        {kept.length > 0 ? `lay ${kept.length} more …` : 'lay anew …'}
      </MenuButton>
      <MenuItems
        anchor={{ to: 'bottom end', gap: 2, padding: 8 }}
        className="z-50 rounded-md border border-edge bg-sheet py-1 shadow-lg outline-none"
      >
        {WAYS.map(([way, label, title]) => (
          <MenuItem key={way}>
            <button
              type="button"
              title={title}
              className="block w-full whitespace-nowrap px-3 py-[3px] text-left data-focus:bg-selection"
              onClick={() => void lay(way).catch((error: Error) => complain(error.message))}
            >
              {label}
            </button>
          </MenuItem>
        ))}
        {takes.length > 1 && keep && (
          <MenuItem>
            <button
              type="button"
              className="block w-full whitespace-nowrap px-3 py-[3px] text-left data-focus:bg-selection"
              onClick={() => void commit(`took one take of ${pad.name}`, oneTake(view, pad, layers, keep, newId))}
            >
              One take only
            </button>
          </MenuItem>
        )}
      </MenuItems>
    </Menu>
  );
}

/** How loud takes are, as they sound. */
async function heardTakes(view: KitView, hitIds: readonly string[]): Promise<HeardTake[]> {
  const { samples } = await openSound();
  const all = hitIds.map(async (hitId): Promise<HeardTake | null> => {
    const hit = view.hits.find(({ id }) => id === hitId);
    const recording = view.recordings.find(({ id }) => id === hit?.recordingId);
    if (!hit || !recording) return null;
    const { figures } = await samples.inspect(hit, recording);
    return { hitId, lufs: figures.lufs };
  });
  return (await Promise.all(all)).filter((take) => take !== null);
}
