'use client';

import Link from 'next/link';
import { useState } from 'react';
import type { Change } from '@/contract/edits';
import type { KitView } from '@/contract/views';
import { chromaticLayout, generalMidiLayout, layoutOf } from '@/core/kit/layouts';
import type { Layout, LayoutPlace } from '@/core/kit/model';
import { BANK_SIZE, LAYOUT_PARAMETERS } from '@/core/kit/parameters';
import { freeName } from '@/core/naming/names';
import { sparse } from '@/core/parameter/values';
import { useCommands } from '../data/commit';
import { useHits, useKits, useNamed } from '../data/queries';
import { useKitDesk } from '../pads/kit-context';
import { Choice } from '../parts/Choice';
import { useNoteName } from '../parts/note-names';
import { tell } from '../parts/notice';
import { LayInto } from './LayInto';
import { emptiedKit, laidOut } from './layouts';
import { allSubstituted } from './substitutes';

const GENERAL_MIDI = 'general midi';
/** Notes from which a chromatic layout rises. */
const ROOTS = [24, 36, 48, 60, 72] as const;

/** The kit's layout: given to it, kept for others, or kept as a kit without sounds. */
export function LayoutRows({ view }: { view: KitView }) {
  const { commit } = useCommands();
  const { choose } = useKitDesk();
  const noteName = useNoteName();
  const kits = useKits();
  const { data: hits } = useHits();
  const layouts = useNamed('layout').data ?? [];
  const [withSettings, setWithSettings] = useState(true);
  const { kit } = view;
  const roles = view.pads.filter(({ role }) => role !== '');
  const sounding = roles.filter(({ id }) => view.layers.some(({ padId }) => padId === id)).length;
  const newId = () => crypto.randomUUID();
  const give = (name: string, places: readonly LayoutPlace[], set: Layout['kitValues'] = {}) => {
    const whole: Change[] =
      Object.keys(set).length > 0 ? [{ op: 'update', doc: 'kit', id: kit.id, rev: kit.rev, set }] : [];
    void commit(`gave the kit ${kit.name} the layout ${name}`, [...laidOut(view, places, newId), ...whole]);
    tell(`${kit.name} has the roles of ${name}; Ctrl Z takes them back.`);
  };
  const giveNamed = (chosen: string) => {
    if (chosen === GENERAL_MIDI) return give('General MIDI percussion', generalMidiLayout());
    const root = ROOTS.find((note) => String(note) === chosen);
    if (root !== undefined) return give(`chromatic from ${noteName(root)}`, chromaticLayout(root, BANK_SIZE, noteName));
    const own = layouts.find(({ id }) => id === chosen);
    if (own) give(own.name, own.places, own.kitValues);
  };
  const keep = () => {
    const name = freeName(kit.name, new Set(layouts.map((layout) => layout.name)));
    const kitValues = withSettings ? sparse(LAYOUT_PARAMETERS, kit) : {};
    const value = { name, places: layoutOf(view.pads, withSettings), kitValues };
    void commit(`kept the layout ${name}`, [{ op: 'create', doc: 'layout', id: newId(), value }]);
    tell(`The layout “${name}” can be given to any kit.`);
  };
  const substitute = () => {
    const { changes, filled, without } = allSubstituted(view, hits ?? [], newId);
    const left = without.length === 0 ? '' : ` Nothing of the family for ${without.join(', ')}.`;
    if (filled > 0)
      void commit(`gave ${filled === 1 ? 'a role' : `${filled} roles`} of ${kit.name} substitutes`, changes);
    tell(`${filled === 0 ? 'No role' : filled === 1 ? '1 role' : `${filled} roles`} got a substitute.${left}`);
  };
  const empty = async () => {
    const name = freeName(`${kit.name} roles`, new Set((kits.data ?? []).map((k) => k.name)));
    const { kitId, changes } = emptiedKit(view, name, newId);
    if (!(await commit(`kept ${kit.name} without its sounds as ${name}`, changes))) return;
    await kits.refetch();
    choose(kitId);
  };
  return (
    <section aria-label="Layout" className="mt-2">
      <h2 className="flex items-baseline justify-between font-semibold text-[12px] text-soft">
        Layout
        <span className="font-normal">
          {roles.length === 0 ? 'no roles yet' : `${roles.length} roles, ${sounding} with a sound`}
        </span>
      </h2>
      <div className="mt-1 flex flex-wrap items-center gap-2">
        <Choice
          label="Give it a layout"
          className="quiet-button"
          value={undefined as string | undefined}
          shown="Lay out as …"
          options={[
            [GENERAL_MIDI, 'General MIDI percussion'] as const,
            ...ROOTS.map((note) => [String(note), `chromatic from ${noteName(note)} (${note})`] as const),
            ...layouts.map(({ id, name }) => [id, name] as const),
          ]}
          onChoose={giveNamed}
        />
        <button type="button" className="quiet-button" disabled={view.pads.length === 0} onClick={keep}>
          Keep its layout
        </button>
        <button
          type="button"
          className="quiet-button"
          title="A new kit with the same roles and settings, without sounds"
          disabled={view.pads.length === 0}
          onClick={() => void empty()}
        >
          Without sounds
        </button>
        {sounding < roles.length && (
          <button
            type="button"
            className="quiet-button"
            title="Every role without a sound gets that of a pad, or else of a hit, of its family"
            onClick={substitute}
          >
            Substitutes for {roles.length - sounding}
          </button>
        )}
        <Link
          href="/kits/map"
          className="quiet-button inline-flex items-center"
          title="Every pad with its key, note, role and sound, on paper"
        >
          Map to print
        </Link>
        <LayInto view={view} />
        <label className="flex items-center gap-1 text-[12px]">
          <input type="checkbox" checked={withSettings} onChange={() => setWithSettings(!withSettings)} />
          with how it plays
        </label>
      </div>
    </section>
  );
}
