import type { RecordingView } from '@/contract/views';
import { heldBack } from '@/core/rights/rights';
import { useCommands } from '../data/commit';
import { RightsSelect } from './RightsSelect';
import { TextField } from './TextField';

/** Edits who owns a recording and what may be done with it; says what prevents sharing it. */
export function RightsEditor({ recording: r }: { recording: RecordingView }) {
  const { commit } = useCommands();
  const save = (set: Record<string, string>) =>
    void commit(`changed the rights of ${r.title}`, [{ op: 'update', doc: 'recording', id: r.id, rev: r.rev, set }]);
  const held = heldBack(r);
  const field = 'w-full border-b border-line px-1 py-[2px]';
  return (
    <section
      aria-label={`Rights of ${r.title}`}
      className="mt-2 grid grid-cols-[64px_1fr] items-center gap-x-2 gap-y-1"
    >
      <span className="text-[12px] text-soft">Rights</span>
      <RightsSelect
        label="Rights"
        className={`${field} ${held ? 'text-madder' : ''}`}
        value={r.rightsKind}
        onChoose={(rightsKind) => save({ rightsKind })}
      />
      <span className="text-[12px] text-soft">Whose</span>
      <TextField
        label="Whose"
        value={r.rightsOwner}
        maxLength={200}
        className={field}
        mayBeEmpty
        onCommit={(rightsOwner) => save({ rightsOwner })}
      />
      <span className="text-[12px] text-soft">Terms</span>
      <TextField
        label="Terms"
        value={r.rightsText}
        maxLength={2000}
        className={field}
        placeholder="licence, source, address"
        mayBeEmpty
        onCommit={(rightsText) => save({ rightsText })}
      />
      {held && <p className="col-span-2 text-[12px] text-madder">{held}</p>}
    </section>
  );
}
