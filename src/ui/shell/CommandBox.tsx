'use client';

import { Command } from 'cmdk';
import { useRouter } from 'next/navigation';
import { useCommands } from '../data/commit';
import { useKits, useLiveRecordings } from '../data/queries';
import { useImports } from '../imports/use-imports';
import { useKitDesk } from '../pads/kit-context';
import { setTheme } from './Header';

/** Find a recording or a kit, or do something, by typing. */
export function CommandBox({ open, onClose }: { open: boolean; onClose: () => void }) {
  const router = useRouter();
  const recordings = useLiveRecordings();
  const kits = useKits();
  const { choose, createKit } = useKitDesk();
  const { undo, redo } = useCommands();
  const { open: openImport } = useImports();
  const run = (what: () => void) => () => {
    onClose();
    what();
  };
  const item = 'flex items-center rounded-md px-3 py-[6px] data-[selected=true]:bg-selection';
  const group =
    '[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-[12px] [&_[cmdk-group-heading]]:text-soft';
  return (
    <Command.Dialog
      open={open}
      onOpenChange={(isOpen) => !isOpen && onClose()}
      label="Find or do"
      overlayClassName="fixed inset-0 z-40 bg-ink/20"
      contentClassName="fixed left-1/2 top-[72px] z-50 w-[560px] -translate-x-1/2 rounded-xl border border-edge bg-sheet p-2 shadow-xl"
    >
      <Command.Input
        placeholder="A recording, a kit, or what to do"
        className="mb-1 w-full border-b border-line px-3 py-2 text-[15px] outline-none"
      />
      <Command.List className="max-h-[420px] overflow-auto">
        <Command.Empty className="px-3 py-4 text-soft">Nothing goes by that name.</Command.Empty>
        <Command.Group heading="Do" className={group}>
          <Command.Item className={item} onSelect={run(openImport)}>
            Import files or a folder
          </Command.Item>
          <Command.Item className={item} onSelect={run(() => void createKit('Kit'))}>
            Make a new kit
          </Command.Item>
          <Command.Item className={item} onSelect={run(() => void undo())}>
            Undo
          </Command.Item>
          <Command.Item className={item} onSelect={run(() => void redo())}>
            Redo
          </Command.Item>
          <Command.Item className={item} onSelect={run(() => setTheme('daylight'))}>
            Daylight
          </Command.Item>
          <Command.Item className={item} onSelect={run(() => setTheme('lamplight'))}>
            Lamplight
          </Command.Item>
        </Command.Group>
        <Command.Group heading="Recordings" className={group}>
          {recordings.map((r) => (
            <Command.Item
              key={r.id}
              value={`${r.title} ${r.id}`}
              className={item}
              onSelect={run(() => router.push(`/slice/${r.id}`))}
            >
              {r.title}
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Kits" className={group}>
          {kits.data?.map((k) => (
            <Command.Item
              key={k.id}
              value={`${k.name} ${k.id}`}
              className={item}
              onSelect={run(() => {
                choose(k.id);
                router.push('/kits');
              })}
            >
              {k.name} <span className="ml-2 text-soft">{k.padCount} pads</span>
            </Command.Item>
          ))}
        </Command.Group>
      </Command.List>
    </Command.Dialog>
  );
}
