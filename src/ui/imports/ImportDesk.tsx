'use client';

import { useQueryClient } from '@tanstack/react-query';
import dynamic from 'next/dynamic';
import { type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { keys } from '../data/queries';
import { tell } from '../parts/notice';
import { isBundle, isNotes } from './bundles';
import { readChoice } from './choice';
import { type ImportItem, ImportQueue } from './queue';
import { useBundles } from './use-bundles';
import { bringsFiles, filesOf, ImportContext, type Imports } from './use-imports';
import { useNotes } from './use-notes';
import { useShowImported } from './use-show-imported';

const ImportPanel = dynamic(() => import('./ImportPanel').then((m) => m.ImportPanel), { ssr: false });
const ImportDialog = dynamic(() => import('./ImportDialog').then((m) => m.ImportDialog), { ssr: false });

/** Takes files and folders that are dropped anywhere or picked, uploads them, and shows the progress of each. */
export function ImportDesk({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const [items, setItems] = useState<readonly ImportItem[]>([]);
  const [over, setOver] = useState(false);
  const [dialog, setDialog] = useState(false);
  const fileInput = useRef<HTMLInputElement>(null);
  const folderInput = useRef<HTMLInputElement>(null);
  const [queue] = useState(() => {
    const made: ImportQueue = new ImportQueue(
      () => setItems(made.items),
      () => {
        void client.invalidateQueries({ queryKey: keys.recordings });
        void client.invalidateQueries({ queryKey: keys.hits });
      },
    );
    return made;
  });
  // Leaving the page would abort uploads.
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => queue.busy && event.preventDefault();
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, [queue]);

  const show = useShowImported();
  const openBundles = useBundles();
  const takeNotes = useNotes();
  const take = useCallback<Imports['take']>(
    (files, choice = readChoice(), onDone) => {
      const sounds = files.filter((file) => !isBundle(file) && !isNotes(file));
      takeNotes(files.filter(isNotes).map(({ file }) => file));
      openBundles(files.filter(isBundle));
      if (files.length === 0) tell('There were no files in that.');
      else if (sounds.length > 0)
        queue.add(sounds, choice, onDone ?? ((answers) => answers.length === 1 && show(answers[0]?.answer ?? null)));
    },
    [queue, show, openBundles, takeNotes],
  );
  const value = useMemo<Imports>(
    () => ({
      items,
      speed: () => queue.begun.bytes / Math.max(0.2, (performance.now() - queue.begun.at) / 1000),
      open: () => setDialog(true),
      pick: (what) => (what === 'files' ? fileInput : folderInput).current?.click(),
      take,
      cancel: (id) => queue.cancel(id),
      cancelAll: () => queue.cancelAll(),
      retry: (ids) => queue.retry(ids),
      clear: () => queue.clear(),
    }),
    [items, queue, take],
  );
  const onPicked = async (event: React.ChangeEvent<HTMLInputElement>) => {
    const field = event.currentTarget;
    const files = await filesOf(event.nativeEvent);
    field.value = '';
    setDialog(false);
    take(files);
  };
  return (
    <ImportContext.Provider value={value}>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: dropping files is one way; the button of the page is the other */}
      <div
        onDragOver={(event) => {
          if (!bringsFiles(event)) return;
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={(event) => event.relatedTarget === null && setOver(false)}
        onDrop={(event) => {
          setOver(false);
          if (!bringsFiles(event) || event.defaultPrevented) return;
          event.preventDefault();
          void filesOf(event.nativeEvent).then((files) => take(files));
        }}
      >
        {children}
        {over && (
          <p className="pointer-events-none fixed top-12 left-1/2 z-50 -translate-x-1/2 rounded-lg border-2 border-verdigris border-dashed bg-selection px-6 py-3 font-head text-xl">
            Let go to import · on a pad to lay it there
          </p>
        )}
        {items.length > 0 && <ImportPanel />}
        {dialog && <ImportDialog onClose={() => setDialog(false)} />}
      </div>
      <input
        ref={fileInput}
        type="file"
        multiple
        className="hidden"
        data-testid="file-input"
        onChange={(event) => void onPicked(event)}
      />
      <input
        ref={folderInput}
        type="file"
        // @ts-expect-error -- not in the types, but in every browser
        webkitdirectory=""
        className="hidden"
        data-testid="folder-input"
        onChange={(event) => void onPicked(event)}
      />
    </ImportContext.Provider>
  );
}
