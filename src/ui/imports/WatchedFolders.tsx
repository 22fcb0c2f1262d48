'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { WatchedFolder } from '@/contract/imports';
import { deleteAt, postJson } from '../data/api';
import { keys, useFolders, useScan } from '../data/queries';
import { complain } from '../parts/notice';
import type { ImportChoice } from './queue';

const said = (work: Promise<unknown>) => work.catch((error: Error) => complain(error.message));

/** Folders of the server's machine that can be scanned for new files. */
export function WatchedFolders({ choice }: { choice: ImportChoice }) {
  const folders = useFolders();
  const client = useQueryClient();
  const [path, setPath] = useState('');
  const [fault, setFault] = useState('');
  const refresh = () => client.invalidateQueries({ queryKey: keys.folders });
  const add = async () => {
    try {
      const { id } = await postJson<{ id: string }>('/api/folders', { path, ...choice });
      setPath('');
      setFault('');
      await refresh();
      await postJson(`/api/folders/${id}/scan`, {});
    } catch (error) {
      setFault((error as Error).message);
    }
  };
  return (
    <section aria-label="Watched folders" className="mt-5 border-t border-line pt-4">
      <h3 className="font-semibold">Watched folders</h3>
      <p className="text-[12px] text-soft">
        Folders of this machine that are gone through again when you ask, for what is new or has changed only.
      </p>
      <ul>
        {folders.data?.map((folder) => (
          <Folder
            key={folder.id}
            folder={folder}
            onForget={() => void said(deleteAt(`/api/folders/${folder.id}`).then(refresh))}
          />
        ))}
      </ul>
      <form
        className="mt-2 flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void add();
        }}
      >
        <input
          aria-label="Path of a folder"
          className="min-w-0 flex-1 rounded-md border border-line px-2"
          placeholder="/home/me/sounds"
          value={path}
          onChange={(event) => setPath(event.target.value)}
        />
        <button type="submit" className="quiet-button" disabled={path.trim() === ''}>
          Watch and scan
        </button>
      </form>
      {fault && <p className="mt-1 text-[12px] text-madder">{fault}</p>}
    </section>
  );
}

function Folder({ folder, onForget }: { folder: WatchedFolder; onForget: () => void }) {
  const scan = useScan(folder.id);
  const busy = scan !== null && !scan.finished;
  const failed = scan?.failed ?? [];
  return (
    <li className="border-b border-line py-1">
      <div className="flex items-center gap-2">
        <span className="min-w-0 flex-1 truncate" title={folder.path}>
          {folder.path}
        </span>
        <span className="figure text-[12px] text-soft">
          {busy
            ? `${scan.done} of ${scan.total}`
            : `${folder.fileCount} files${folder.failedCount > 0 ? ` · ${folder.failedCount} not taken in` : ''}`}
        </span>
        <button
          type="button"
          className="quiet-button"
          onClick={() =>
            void said(
              busy ? deleteAt(`/api/folders/${folder.id}/scan`) : postJson(`/api/folders/${folder.id}/scan`, {}),
            )
          }
        >
          {busy ? 'Stop' : 'Scan for new'}
        </button>
        <button type="button" className="quiet-button" onClick={onForget}>
          Forget
        </button>
      </div>
      {scan?.finished && (
        <p className="text-[12px] text-soft">
          {scan.taken} new, {scan.linked} here already
          {scan.failedCount > 0 ? `, ${scan.failedCount} could not be taken in:` : '.'}
        </p>
      )}
      {failed.slice(0, 20).map((f) => (
        <p key={f.path} className="text-[12px] text-madder">
          {f.path}: {f.reason}
        </p>
      ))}
    </li>
  );
}
