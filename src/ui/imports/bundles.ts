import type { FileToImport } from './queue';

/** Whether a file is of notes: it becomes a groove. */
export function isNotes({ file }: FileToImport): boolean {
  return /\.midi?$/i.test(file.name);
}

/** Whether a file is a bundle of a kit and no sound. */
export function isBundle({ file }: FileToImport): boolean {
  return /\.zip$/i.test(file.name);
}
