import { openBundle } from '../data/kit-api';
import { complain, tell } from '../parts/notice';
import type { FileToImport } from './queue';

/** Opens bundles as kits, one after another, and shows the last. */
export async function openBundles(files: readonly FileToImport[], show: (kitId: string) => void): Promise<void> {
  for (const { file } of files) {
    tell(`Opening ${file.name} …`);
    try {
      const { kitId, name, pads, known } = await openBundle(file);
      const also = known > 0 ? ` ${known} of its samples ${known === 1 ? 'was' : 'were'} here already.` : '';
      tell(`"${name}" is open: ${pads === 1 ? '1 pad' : `${pads} pads`}.${also} Ctrl Z takes the kit away again.`);
      show(kitId);
    } catch (error) {
      complain(`${file.name}: ${(error as Error).message}`);
    }
  }
}
