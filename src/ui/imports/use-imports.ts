import { createContext, type DragEvent, useContext } from 'react';
import type { Answered, FileToImport, ImportChoice, ImportItem } from './queue';

export interface Imports {
  readonly items: readonly ImportItem[];
  /** Bytes a second since the queue began. */
  readonly speed: () => number;
  /** Opens the import dialog. */
  readonly open: () => void;
  readonly pick: (what: 'files' | 'folder') => void;
  readonly take: (
    files: readonly FileToImport[],
    choice?: ImportChoice,
    onDone?: (answers: readonly Answered[]) => void,
  ) => void;
  readonly cancel: (id: number) => void;
  readonly cancelAll: () => void;
  readonly retry: (ids: readonly number[]) => void;
  readonly clear: () => void;
}

export const ImportContext = createContext<Imports | null>(null);

export function useImports(): Imports {
  const imports = useContext(ImportContext);
  if (!imports) throw new Error('useImports is for use inside ImportDesk.');
  return imports;
}

/** Whether a drag brings files from outside the page. */
export function bringsFiles(event: DragEvent): boolean {
  return event.dataTransfer.types.includes('Files');
}

/** The files of a drop or an input, including those in dropped folders, without hidden ones. */
export async function filesOf(source: unknown): Promise<FileToImport[]> {
  const { fromEvent } = await import('file-selector');
  const found = (await fromEvent(source as Event)) as (File & { path?: string; relativePath?: string })[];
  return found
    .filter((file): file is File & { path?: string } => file instanceof File && !file.name.startsWith('.'))
    .map((file) => ({
      file,
      path: (file.path ?? file.webkitRelativePath ?? file.name).replace(/^\.?\//, '') || file.name,
    }));
}
