import { useState } from 'react';
import type { RecordingView } from '@/contract/views';
import { DEFAULT_PATTERN } from '@/core/naming/names';
import { parseTags } from '@/core/naming/tags';
import { WHATS } from '@/core/recording/what';
import { Choice } from '../parts/Choice';
import { RightsSelect } from '../parts/RightsSelect';
import { useRecordingEdits } from './use-edits';

/** Actions on several recordings at once; each is one step to undo. */
export function BulkBar({ recordings, inBin }: { recordings: readonly RecordingView[]; inBin: boolean }) {
  const edits = useRecordingEdits();
  const [tag, setTag] = useState('');
  const [owner, setOwner] = useState('');
  const [pattern, setPattern] = useState('');
  const many = edits.named(recordings);
  const addTags = () => {
    for (const one of parseTags(tag)) edits.tag(recordings, one);
    setTag('');
  };
  return (
    <section
      aria-label="Edit those chosen"
      className="flex h-10 flex-none items-center gap-2 border-t border-line bg-paper px-3"
    >
      <span className="font-semibold">{recordings.length} chosen</span>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          addTags();
        }}
      >
        <input
          aria-label="Add a tag to those chosen"
          className="h-7 w-[110px] rounded-md border border-line px-2"
          placeholder="add a tag"
          value={tag}
          onChange={(event) => setTag(event.target.value)}
        />
      </form>
      <Choice
        label="What those chosen are"
        className="quiet-button"
        value={undefined}
        shown="what they are …"
        options={WHATS.map((what) => [what, what] as const)}
        onChoose={(what) => edits.set(recordings, `said what ${many} are`, { what })}
      />
      <RightsSelect
        label="Rights of those chosen"
        className="quiet-button"
        onChoose={(rightsKind) => edits.set(recordings, `changed the rights of ${many}`, { rightsKind })}
      />
      <form
        onSubmit={(event) => {
          event.preventDefault();
          edits.set(recordings, `said whose ${many} are`, { rightsOwner: owner.trim() });
        }}
      >
        <input
          aria-label="Whose those chosen are"
          className="h-7 w-[130px] rounded-md border border-line px-2"
          placeholder="whose, then Enter"
          value={owner}
          onChange={(event) => setOwner(event.target.value)}
        />
      </form>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          edits.set(recordings, `changed how hits of ${many} are named`, { pattern: pattern.trim() });
        }}
      >
        <input
          aria-label="How new hits of those chosen are named"
          className="figure h-7 w-[190px] rounded-md border border-line px-2 text-[12px]"
          maxLength={80}
          placeholder="how new hits are named"
          title={`How new hits of these are named; Enter keeps it, emptied it is the usual one: ${DEFAULT_PATTERN}`}
          value={pattern}
          onChange={(event) => setPattern(event.target.value)}
        />
      </form>
      <span className="ml-auto" />
      {inBin ? (
        <>
          <button type="button" className="quiet-button" onClick={() => edits.restore(recordings)}>
            Put back
          </button>
          <button type="button" className="quiet-button text-madder" onClick={() => void edits.discard(recordings)}>
            Remove for good
          </button>
        </>
      ) : (
        <button type="button" className="quiet-button" onClick={() => edits.bin(recordings)}>
          To the bin
        </button>
      )}
    </section>
  );
}
