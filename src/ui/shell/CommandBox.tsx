'use client';

import { Command } from 'cmdk';
import { useRouter } from 'next/navigation';
import { type ReactNode, useState } from 'react';
import { useHits, useKits, useLiveRecordings } from '../data/queries';
import { useKitDesk } from '../pads/kit-context';
import { actionsHere } from '../parts/actions';
import { useStore } from '../parts/store';
import { PLACES, useSliceAddress } from './places';

/** Hits are looked through by the thousand; so many are listed. */
const MOST_HITS = 400;

/** Finds a place, a recording, a hit or a kit, and does what the page can do, by typing. */
export function CommandBox({ open, onClose }: { open: boolean; onClose: () => void }) {
  const router = useRouter();
  const recordings = useLiveRecordings();
  const kits = useKits();
  const hits = useHits();
  const slice = useSliceAddress();
  // Listed at once with the hits, so that the first that is found is chosen among them too; without them if they cannot be had.
  const ready = hits.data !== undefined || hits.failureCount > 0;
  const actions = [...useStore(actionsHere).values()].flat();
  const { choose } = useKitDesk();
  const [query, setQuery] = useState('');
  const run = (what: () => void) => () => {
    onClose();
    what();
  };
  return (
    <Command.Dialog
      open={open}
      onOpenChange={(isOpen) => !isOpen && onClose()}
      label="Find or do"
      overlayClassName="fixed inset-0 z-40 bg-ink/20"
      contentClassName="fixed left-1/2 top-[72px] z-50 w-[560px] -translate-x-1/2 rounded-xl border border-edge bg-sheet p-2 shadow-xl"
    >
      <Command.Input
        value={query}
        onValueChange={setQuery}
        placeholder="A place, a recording, a hit, a kit, or what to do"
        className="mb-1 w-full border-b border-line px-3 py-2 text-[15px] outline-none"
      />
      <Command.List className="max-h-[420px] overflow-auto">
        <Command.Empty className="px-3 py-4 text-soft">
          {ready ? 'Nothing goes by that name.' : 'Fetching …'}
        </Command.Empty>
        {ready && (
          <>
            <Group heading="Places">
              {PLACES.map(([href, label], i) => (
                <Item
                  key={href}
                  value={`go to ${label}`}
                  hint={`Ctrl Shift ${i + 1}`}
                  onSelect={run(() => router.push(href === '/slice' ? slice : href))}
                >
                  {label}
                </Item>
              ))}
            </Group>
            <Group heading="Do">
              {actions.map((action) => (
                <Item key={action.name} value={action.name} hint={action.key} onSelect={run(action.run)}>
                  {action.name}
                </Item>
              ))}
            </Group>
            <Group heading="Recordings">
              {recordings.map((r) => (
                <Item
                  key={r.id}
                  value={`${r.title} ${r.otherNames.join(' ')} ${r.id}`}
                  onSelect={run(() => router.push(`/slice/${r.id}`))}
                >
                  {r.title}
                </Item>
              ))}
            </Group>
            <Group heading="Kits">
              {kits.data?.map((k) => (
                <Item
                  key={k.id}
                  value={`${k.name} ${k.id}`}
                  hint={`${k.padCount} pads`}
                  onSelect={run(() => {
                    choose(k.id);
                    router.push('/kits');
                  })}
                >
                  {k.name}
                </Item>
              ))}
            </Group>
            <Group heading="Hits">
              {(hits.data ?? [])
                .filter((hit) => hit.binnedAt === null)
                .slice(0, MOST_HITS)
                .map((hit) => (
                  <Item
                    key={hit.id}
                    value={`${hit.name} ${hit.id}`}
                    hint={hit.family ?? ''}
                    onSelect={run(() => router.push(`/hits?hit=${hit.id}`))}
                  >
                    {hit.name}
                  </Item>
                ))}
            </Group>
          </>
        )}
      </Command.List>
    </Command.Dialog>
  );
}

function Group({ heading, children }: { heading: string; children: ReactNode }) {
  return (
    <Command.Group
      heading={heading}
      className="[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-[12px] [&_[cmdk-group-heading]]:text-soft"
    >
      {children}
    </Command.Group>
  );
}

function Item({
  value,
  hint,
  onSelect,
  children,
}: {
  value: string;
  hint?: string | undefined;
  onSelect: () => void;
  children: ReactNode;
}) {
  return (
    <Command.Item
      value={value}
      className="flex items-center rounded-md px-3 py-[6px] data-[selected=true]:bg-selection"
      onSelect={onSelect}
    >
      <span className="min-w-0 flex-1 truncate">{children}</span>
      <span className="figure ml-3 flex-none text-[12px] text-soft">{hint}</span>
    </Command.Item>
  );
}
