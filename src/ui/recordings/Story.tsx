'use client';

import { useEffect, useState } from 'react';
import type { Dependents, RecordingView } from '@/contract/views';
import { parseTags } from '@/core/naming/tags';
import { WHATS, type What } from '@/core/recording/what';
import { useCommands } from '../data/commit';
import { useStory } from '../data/queries';
import { Choice, type Options } from '../parts/Choice';
import { clock, formatOf } from '../parts/figures';
import { RightsEditor } from '../parts/RightsEditor';
import { TextArea, TextField } from '../parts/TextField';
import { TreatAll } from '../treatment/TreatAll';
import { Said } from './Said';
import { useRecordingEdits } from './use-edits';

const FIELD = 'w-full border-b border-line px-1 py-[2px]';

const WHAT_OPTIONS: Options<What | null> = [[null, 'not said'], ...WHATS.map((what) => [what, what] as const)];

/** A recording's story: what it is, where it is from, who owns it, and its file's metadata. */
export function Story({ recording: r, onHear }: { recording: RecordingView; onHear: (frame: number) => void }) {
  const edits = useRecordingEdits();
  const { data: story } = useStory(r.id);
  const set = (label: string, fields: Parameters<typeof edits.set>[2]) => edits.set([r], label, fields);
  return (
    <aside
      aria-label={`Story of ${r.title}`}
      className="w-[300px] flex-none overflow-auto border-l border-line bg-paper p-3"
    >
      <h2 className="truncate font-head text-[17px]" title={r.title}>
        {r.title}
      </h2>
      <p className="figure text-[12px] text-soft">{formatOf(r)}</p>
      <TreatAll recording={r} />
      <div className="mt-2 grid grid-cols-[64px_1fr] items-center gap-x-2 gap-y-1">
        <Label>What</Label>
        <Choice
          label="What it is"
          className={FIELD}
          value={r.what}
          options={WHAT_OPTIONS}
          onChoose={(what) => set(`said what ${r.title} is`, { what })}
        />
        <Label>Place</Label>
        <TextField
          label="Place"
          value={r.place}
          maxLength={200}
          className={FIELD}
          mayBeEmpty
          onCommit={(place) => set(`said where ${r.title} was made`, { place })}
        />
        <Label>Date</Label>
        <TextField
          label="Date"
          value={r.madeOn}
          maxLength={40}
          className={FIELD}
          mayBeEmpty
          onCommit={(madeOn) => set(`said when ${r.title} was made`, { madeOn })}
        />
        <Label>Tempo</Label>
        <TextField
          label="Tempo in BPM"
          value={r.tempoBpm === null ? '' : String(Math.round(r.tempoBpm * 100) / 100)}
          maxLength={8}
          className={`figure ${FIELD}`}
          placeholder="BPM"
          mayBeEmpty
          onCommit={(text) => {
            const bpm = Number.parseFloat(text.replace(',', '.'));
            set(`set the tempo of ${r.title}`, { tempoBpm: text === '' || Number.isNaN(bpm) ? null : bpm });
          }}
        />
        <Label>Tags</Label>
        <TextField
          label="Tags"
          value={r.tags.join(', ')}
          maxLength={600}
          className={FIELD}
          placeholder="between commas"
          mayBeEmpty
          onCommit={(text) => set(`changed the tags of ${r.title}`, { tags: parseTags(text) })}
        />
      </div>
      <TextArea
        label="Notes"
        placeholder="Notes"
        value={r.notes}
        maxLength={10000}
        className="mt-2 h-[52px] w-full resize-y rounded-md border border-line p-1"
        onCommit={(notes) => set(`changed the notes of ${r.title}`, { notes })}
      />
      <RightsEditor recording={r} />
      {r.warnings.map((warning) => (
        <p key={warning} className="mt-2 text-[12px] text-madder">
          {warning}
        </p>
      ))}
      {story && <Bookmarks recording={r} bookmarks={story.bookmarks} onHear={onHear} />}
      {story && <Said recording={r} story={story} onHear={onHear} />}
      <Uses recording={r} />
    </aside>
  );
}

function Label({ children }: { children: string }) {
  return <span className="text-[12px] text-soft">{children}</span>;
}

function Bookmarks({
  recording: r,
  bookmarks,
  onHear,
}: {
  recording: RecordingView;
  bookmarks: readonly { id: string; rev: number; frame: number; label: string }[];
  onHear: (frame: number) => void;
}) {
  const { commit } = useCommands();
  if (bookmarks.length === 0) return null;
  return (
    <section aria-label="Bookmarks" className="mt-3">
      <h3 className="text-[12px] text-soft">Bookmarks</h3>
      {bookmarks.map(({ id, rev, frame, label }) => (
        <div key={id} className="flex items-center gap-2">
          <button
            type="button"
            className="figure text-[12px] text-verdigris hover:underline"
            onClick={() => onHear(frame)}
          >
            {clock(frame / r.sampleRate)}
          </button>
          <TextField
            label="Name of the bookmark"
            value={label}
            maxLength={200}
            className="min-w-0 flex-1"
            placeholder="unnamed"
            mayBeEmpty
            onCommit={(text) =>
              void commit('named a bookmark', [{ op: 'update', doc: 'bookmark', id, rev, set: { label: text } }])
            }
          />
          <button
            type="button"
            aria-label={`Remove the bookmark at ${clock(frame / r.sampleRate)}`}
            className="text-soft hover:text-ink"
            onClick={() => void commit('removed a bookmark', [{ op: 'remove', doc: 'bookmark', id, rev }])}
          >
            ×
          </button>
        </div>
      ))}
    </section>
  );
}

/** What uses it, and how to remove it. */
function Uses({ recording: r }: { recording: RecordingView }) {
  const edits = useRecordingEdits();
  const [uses, setUses] = useState<Dependents | null>(null);
  useEffect(() => {
    let current = true;
    if (r.hitCount > 0)
      void edits.dependents(r).then(
        (found) => current && setUses(found),
        () => {},
      );
    else setUses(null);
    return () => {
      current = false;
    };
  }, [edits, r]);
  return (
    <section aria-label="What is made of it" className="mt-3 text-[12px]">
      {uses && (
        <>
          <h3 className="text-soft">What is made of it</h3>
          <p>
            {uses.hits.map((h) => h.name).join(', ')}
            {uses.pads.length > 0 && (
              <span className="text-soft"> — on {uses.pads.map((p) => `${p.pad} (${p.kit})`).join(', ')}</span>
            )}
          </p>
        </>
      )}
      <div className="mt-2 flex gap-2">
        {r.binnedAt === null ? (
          <button type="button" className="quiet-button" onClick={() => edits.bin([r])}>
            To the bin
          </button>
        ) : (
          <>
            <button type="button" className="quiet-button" onClick={() => edits.restore([r])}>
              Put back
            </button>
            <button type="button" className="quiet-button text-madder" onClick={() => void edits.discard([r])}>
              Remove for good
            </button>
          </>
        )}
      </div>
    </section>
  );
}
