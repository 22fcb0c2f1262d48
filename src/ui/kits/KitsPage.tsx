'use client';

import dynamic from 'next/dynamic';
import { type ReactNode, useRef } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { KitDocs, KitView } from '@/contract/views';
import { freeName, LONGEST_NAME } from '@/core/naming/names';
import { KIT_PADS } from '@/core/play/limits';
import { getJson } from '../data/api';
import { useCommands } from '../data/commit';
import { useKits, useVersions } from '../data/queries';
import { useImports } from '../imports/use-imports';
import { useSupplied } from '../imports/use-supplied';
import { useKitDesk } from '../pads/kit-context';
import { stretchOfHit } from '../pads/laying';
import { PadGrid } from '../pads/PadGrid';
import { turnRows } from '../pads/shown-rows';
import { useActions } from '../parts/actions';
import { Choice } from '../parts/Choice';
import { leaveControl, pageKey } from '../parts/focus';
import { complain, tell } from '../parts/notice';
import { createStore, useStore } from '../parts/store';
import { TextField } from '../parts/TextField';
import { useLoadedWhenIdle } from '../parts/use-loaded-when-idle';
import { KEY_VELOCITY, releasePad, strikePad } from '../play/door';
import { useStatus } from '../shell/status';
import { TreatMany } from '../treatment/TreatMany';
import { useTreatKey } from '../treatment/use-treat-key';
import { ExportButton } from './ExportButton';
import { copyKit, emptyPad } from './edits';
import { PadEditor } from './pad/PadEditor';

// Loaded once the page is idle, so that they open at once.
const views = {
  controller: () => import('./controller/ControllerView').then((m) => m.ControllerView),
  kit: () => import('./WholeKit').then((m) => m.WholeKit),
  table: () => import('./PadTable').then((m) => m.PadTable),
  list: () => import('./KitList').then((m) => m.KitList),
  buses: () => import('./buses/BusesView').then((m) => m.BusesView),
};
const ControllerView = dynamic(views.controller, { ssr: false });
const WholeKit = dynamic(views.kit, { ssr: false });
const PadTable = dynamic(views.table, { ssr: false });
const KitList = dynamic(views.list, { ssr: false });
const BusesView = dynamic(views.buses, { ssr: false });
const Picker = dynamic(() => import('../picker/Picker').then((m) => m.Picker), { ssr: false });

export function KitsPage() {
  const kits = useKits();
  const { view, createKit } = useKitDesk();
  const putSupplied = useSupplied();
  useStatus(
    view
      ? 'Strike nearer the top of a pad for a harder hit · arrows choose · drag moves, with Ctrl copies · F2 rename · Delete empties'
      : '',
  );
  if (kits.error && !kits.data)
    return <p className="m-auto text-madder">The kits could not be read: {kits.error.message}</p>;
  if (kits.data?.length === 0) {
    return (
      <div className="m-auto text-center">
        <p className="font-head text-2xl">No kit yet</p>
        <p className="mt-2 text-soft">
          A kit has {KIT_PADS} pads, one for each MIDI note. Make one, then drop slices on it or fill it from a loop on
          Slice. A bundle that somebody handed on opens when its zip is dropped here.
        </p>
        <button type="button" className="next-button mt-4" onClick={() => void createKit('First kit')}>
          Make a kit
        </button>
        <button type="button" className="quiet-button mt-4 ml-3" onClick={() => void putSupplied()}>
          Put in the starter kit
        </button>
      </div>
    );
  }
  if (!view) return <p className="m-auto text-soft">Opening the kit …</p>;
  return <Desk view={view} />;
}

/** What the upper half shows. */
type Shown = 'pads' | 'table' | 'buses' | 'controller' | 'kit' | 'list';
/** It stays when another kit is opened. */
const shownHalf = createStore<Shown>('pads');
const SHOWN: readonly (readonly [Shown, string])[] = [
  ['pads', 'Pads'],
  ['table', 'Table'],
  ['buses', 'Buses'],
  ['controller', 'Controller'],
  ['kit', 'Whole kit'],
  ['list', 'All kits'],
];

function Desk({ view }: { view: KitView }) {
  const shown = useStore(shownHalf);
  useLoadedWhenIdle(views);
  const { commit } = useCommands();
  const { chosen, setChosen, picker, movePad } = useKitDesk();
  const pad = view.pads.find((p) => p.position === chosen);
  useTreatKey(view.layers.find((l) => l.padId === pad?.id)?.hitId);
  const move = (by: number) => {
    leaveControl();
    setChosen(chosen === null ? 0 : Math.max(0, Math.min(KIT_PADS - 1, chosen + by)));
  };
  const carry = (by: number) => {
    const to = (chosen ?? -1) + by;
    if (pad && to >= 0 && to < KIT_PADS) movePad(pad.position, to, false);
  };
  useHotkeys('pageup', () => turnRows(4), pageKey);
  useHotkeys('pagedown', () => turnRows(-4), pageKey);
  useHotkeys('shift+pageup', () => turnRows(1), pageKey);
  useHotkeys('shift+pagedown', () => turnRows(-1), pageKey);
  const copied = useRef<number | null>(null);
  useHotkeys('alt+left', () => carry(-1), pageKey);
  useHotkeys('alt+right', () => carry(1), pageKey);
  useHotkeys('alt+up', () => carry(8), pageKey);
  useHotkeys('alt+down', () => carry(-8), pageKey);
  useHotkeys('mod+c', () => {
    if (!pad) return;
    copied.current = pad.position;
    tell(`${pad.name} is copied: choose an empty pad and press Ctrl V.`);
  });
  useHotkeys('mod+v', () => copied.current !== null && chosen !== null && movePad(copied.current, chosen, true));
  useActions(
    pad
      ? [
          {
            name: `Empty the pad ${pad.name}`,
            key: 'Delete',
            run: () => void commit(`emptied the pad ${pad.name}`, emptyPad(view, pad)),
          },
          {
            name: `Copy the pad ${pad.name}`,
            key: 'Ctrl C',
            run: () => {
              copied.current = pad.position;
            },
          },
        ]
      : [],
  );
  useHotkeys('f2', () => document.querySelector<HTMLInputElement>('[aria-label="Name of the pad"]')?.select(), pageKey);
  useHotkeys('left', () => move(-1), pageKey);
  useHotkeys('right', () => move(1), pageKey);
  useHotkeys('up', () => chosen !== null && chosen < KIT_PADS - 8 && move(8), pageKey);
  useHotkeys('down', () => chosen !== null && chosen >= 8 && move(-8), pageKey);
  const hear = ({ timeStamp, repeat }: KeyboardEvent) =>
    pad && !repeat && strikePad({ pad: pad.position, velocity: KEY_VELOCITY, timeMs: timeStamp, by: 'keys' });
  useHotkeys('space', hear, pageKey);
  useHotkeys('space', () => pad && releasePad(pad.position), { keyup: true, keydown: false });
  useHotkeys(
    'delete, backspace',
    () => pad && void commit(`emptied the pad ${pad.name}`, emptyPad(view, pad)),
    pageKey,
  );
  return (
    <>
      <KitTools view={view}>
        <Segments shown={shown} onShow={shownHalf.set} />
      </KitTools>
      <div className="flex min-h-0 flex-1 bg-sheet">
        {shown === 'controller' ? (
          <ControllerView view={view} />
        ) : shown === 'kit' ? (
          <WholeKit view={view} />
        ) : shown === 'table' ? (
          <PadTable view={view} />
        ) : shown === 'list' ? (
          <KitList view={view} />
        ) : shown === 'buses' ? (
          <BusesView view={view} />
        ) : pad ? (
          <PadEditor key={pad.id} view={view} pad={pad} />
        ) : (
          <p className="m-auto max-w-[420px] text-center text-soft">
            {chosen === null
              ? 'Click a pad, or choose one with the arrows, to see and change its sound.'
              : 'This pad is empty. Pick a sound for it (F6), or drop a slice or a sound file on it.'}
          </p>
        )}
      </div>
      <div className="flex h-[clamp(300px,46vh,600px)] flex-none border-t border-line bg-paper">
        {picker && (
          <div className="flex min-h-0 w-[34%] min-w-[380px] flex-none">
            <Picker />
          </div>
        )}
        <div className="min-w-0 flex-1 py-3">
          <PadGrid size={picker ? 'docked' : 'large'} />
        </div>
      </div>
    </>
  );
}

function Segments({ shown, onShow }: { shown: Shown; onShow: (shown: Shown) => void }) {
  return (
    <div
      role="tablist"
      aria-label="What is shown"
      className="flex flex-none overflow-hidden rounded-md border border-line"
    >
      {SHOWN.map(([value, label]) => (
        <button
          key={value}
          type="button"
          role="tab"
          aria-selected={shown === value}
          className={`h-[26px] px-[10px] @max-[1100px]:px-[7px] ${shown === value ? 'bg-verdigris text-on-ink' : 'hover:bg-paper'}`}
          onClick={() => onShow(value)}
        >
          {label}
        </button>
      ))}
    </div>
  );
}

/** In the list of kits: one that is still in a file. */
const BUNDLE = 'bundle';

function KitTools({ view, children }: { view: KitView; children: ReactNode }) {
  const kits = useKits();
  const { choose, createKit, picker, setPicker } = useKitDesk();
  const { pick } = useImports();
  const versions = useVersions(view.kit.id);
  const { commit } = useCommands();
  useActions([
    { name: 'Save as a new kit', run: () => void saveCopy() },
    { name: 'Delete the kit', run: () => deleteKit() },
    { name: 'Open a bundle', run: () => pick('files') },
  ]);
  const layered = view.pads.filter((p) => view.layers.filter((l) => l.padId === p.id).length > 1).length;

  const rename = (wanted: string) => {
    const others = new Set((kits.data ?? []).filter((k) => k.id !== view.kit.id).map((k) => k.name));
    const name = freeName(wanted, others);
    if (name !== wanted) tell(`There is a kit named "${wanted}" already; this one is now "${name}".`);
    void commit(`renamed the kit to ${name}`, [
      { op: 'update', doc: 'kit', id: view.kit.id, rev: view.kit.rev, set: { name } },
    ]);
  };
  const saveCopy = async () => {
    const name = freeName(view.kit.name, new Set((kits.data ?? []).map((k) => k.name)));
    const { kitId, changes } = copyKit(view, name, () => crypto.randomUUID());
    if (await commit(`saved the kit as ${name}`, changes)) {
      await kits.refetch();
      choose(kitId);
      tell(`Saved as "${name}". Both kits play the same hits: cutting one of them changes both.`);
    }
  };

  const deleteKit = () => {
    const next = kits.data?.find((k) => k.id !== view.kit.id);
    // Its versions go with it, and come back with it.
    Promise.all(versions.map(({ id }) => getJson<KitDocs>(`/api/kits/${id}`)))
      .then((kept) => {
        void commit(
          `deleted the kit ${view.kit.name}`,
          [view, ...kept].map(({ kit }) => ({ op: 'remove', doc: 'kit', id: kit.id, rev: kit.rev })),
        );
        tell(`"${view.kit.name}" is deleted; Ctrl Z brings it back.`);
        if (next) choose(next.id);
      })
      .catch((error: Error) => complain(`The kit is not deleted: ${error.message}`));
  };

  return (
    <div className="@container flex h-10 flex-none items-center gap-3 overflow-hidden whitespace-nowrap border-b border-line bg-sheet px-4">
      <TextField
        label="Name of the kit"
        value={view.kit.name}
        maxLength={LONGEST_NAME}
        className="w-[210px] min-w-0 flex-shrink border border-transparent px-1 font-semibold hover:border-line @max-[1100px]:w-[120px]"
        onCommit={rename}
      />
      <span className="figure text-[12px] text-soft @max-[1100px]:hidden">
        {new Set(view.layers.map(({ padId }) => padId)).size} of {KIT_PADS} pads
        <span className="@max-[1400px]:hidden">{layered > 0 ? ` · ${layered} layered` : ''}</span>
      </span>
      {children}
      <span className="ml-auto" />
      <span className="@max-[1400px]:hidden text-soft">Open</span>
      <Choice
        label="Open a kit"
        className="quiet-button min-w-[84px] max-w-[190px]"
        value={view.kit.id}
        options={[
          ...(kits.data ?? []).map((k) => [k.id, `${k.name} (${k.padCount})`] as const),
          [BUNDLE, 'a bundle (zip) …'] as const,
        ]}
        onChoose={(id) => (id === BUNDLE ? pick('files') : choose(id))}
      />
      <button type="button" className="quiet-button" onClick={() => void createKit('Kit')}>
        New kit
      </button>
      <button
        type="button"
        className="quiet-button @max-[1100px]:hidden"
        title="Also by its name, Ctrl K"
        onClick={() => void saveCopy()}
      >
        Save as a new kit
      </button>
      <button
        type="button"
        className="quiet-button @max-[1100px]:hidden"
        title="Also by its name, Ctrl K"
        onClick={deleteKit}
      >
        Delete kit
      </button>
      <button
        type="button"
        className="quiet-button"
        aria-pressed={picker}
        title="F6"
        onClick={() => setPicker(!picker)}
      >
        Picker
      </button>
      <TreatMany
        label="Treat all …"
        up={false}
        stretches={view.hits.flatMap((hit) => {
          const recording = view.recordings.find((r) => r.id === hit.recordingId);
          return recording ? [stretchOfHit(hit, recording)] : [];
        })}
      />
      <ExportButton view={view} />
    </div>
  );
}
