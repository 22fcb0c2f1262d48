import type { FileToImport } from './queue';

/** Whether a file is a bundle of a kit and no sound. */
export function isBundle({ file }: FileToImport): boolean {
  return /\.zip$/i.test(file.name);
}
