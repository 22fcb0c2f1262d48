'use client';

import { Download, Play, Square, X } from 'lucide-react';
import { useEffect } from 'react';
import type { Stored } from '@/contract/documents';
import { fromBase64 } from '@/core/bytes';
import type { Performance } from '@/core/midi/performance';
import { safeFileName } from '@/core/naming/safe-names';
import { useCommands } from '../../data/commit';
import { useNamed } from '../../data/queries';
import { length } from '../../parts/figures';
import { useStore } from '../../parts/store';
import { TextField } from '../../parts/TextField';
import { replay, replaying, stopReplay } from '../../play/simulated';

/** Takes that were kept: replayed by the simulated controller, renamed, written as MIDI files, dropped. */
export function KeptPerformances() {
  const { data } = useNamed('performance');
  useEffect(() => stopReplay, []);
  if (data?.length === 0)
    return (
      <p className="mt-2 text-[12px] text-soft">
        Play by pointer, keys or a controller: what is played is kept for ten minutes, and any part of it for good.
      </p>
    );
  return (
    <ul aria-label="Kept takes" className="mt-1 min-h-0 flex-1 overflow-auto">
      {data?.map((performance) => (
        <Kept key={performance.id} performance={performance} />
      ))}
    </ul>
  );
}

function Kept({ performance }: { performance: Stored<Performance> }) {
  const { commit } = useCommands();
  const { id, rev, name, seconds, strokes, midi } = performance;
  const isPlaying = useStore(replaying, (now) => now?.id === id);
  const download = () => {
    const url = URL.createObjectURL(new Blob([fromBase64(midi)], { type: 'audio/midi' }));
    const link = document.createElement('a');
    link.href = url;
    link.download = `${safeFileName(name)}.mid`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(url), 1000);
  };
  const button = 'flex-none rounded p-1 text-soft hover:text-ink';
  return (
    <li className="flex h-7 items-center gap-1 border-line border-b">
      <button
        type="button"
        className={button}
        aria-label={isPlaying ? `Stop ${name}` : `Replay ${name}`}
        onClick={() => (isPlaying ? stopReplay() : replay(id, fromBase64(midi)))}
      >
        {isPlaying ? <Square size={13} aria-hidden /> : <Play size={13} aria-hidden />}
      </button>
      <TextField
        label={`Name of the take ${name}`}
        value={name}
        maxLength={120}
        className="min-w-0 flex-1 border border-transparent px-1 hover:border-line"
        onCommit={(wanted) =>
          void commit(`renamed the take ${name}`, [
            { op: 'update', doc: 'performance', id, rev, set: { name: wanted } },
          ])
        }
      />
      <span className="figure flex-none text-[12px] text-soft">
        {strokes} in {length(seconds)}
      </span>
      <button type="button" className={button} aria-label={`Download ${name} as a MIDI file`} onClick={download}>
        <Download size={13} aria-hidden />
      </button>
      <button
        type="button"
        className="flex-none rounded p-1 text-soft hover:text-madder"
        aria-label={`Drop the take ${name}`}
        onClick={() => void commit(`dropped the take ${name}`, [{ op: 'remove', doc: 'performance', id, rev }])}
      >
        <X size={13} aria-hidden />
      </button>
    </li>
  );
}
