import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { PrintAnswer } from '@/contract/hits';
import type { HitView, RecordingView } from '@/contract/views';
import type { Finish } from '@/core/hit/finish';
import { browserId, postJson, tabId } from '../data/api';
import { hitsNow, keys } from '../data/queries';
import { useKitDesk } from '../pads/kit-context';
import { stretchOfHit } from '../pads/laying';
import { complain, tell } from '../parts/notice';
import { openSound } from '../sound/open-sound';

interface PrintMenuProps {
  readonly hit: HitView;
  readonly recording: RecordingView;
}

const USUAL: Finish = { onAttack: true, oneStrike: true, fadeMs: 5, truePeakDbtp: -1 };
const TICKS = [
  ['onAttack', 'starts on its attack'],
  ['oneStrike', 'ends before a second strike'],
] as const;

/** Prints the layered hit to a hit of its own, finished as ticked, with the rights of everything it is made of. */
export function PrintMenu({ hit, recording }: PrintMenuProps) {
  const client = useQueryClient();
  const router = useRouter();
  const { lay } = useKitDesk();
  const [finish, setFinish] = useState(USUAL);
  const [name, setName] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const print = async () => {
    const { samples } = await openSound();
    const { steps, againMs } = await samples.finish(hit, recording, finish);
    const { hitId, title, duplicate, recordingId } = await postJson<PrintAnswer>(`/api/hits/${hit.id}/print`, {
      ...{ browser: browserId(), tab: tabId, finish: steps, asHit: true },
      name: name?.trim() || `${hit.name} print`,
    });
    await Promise.all([
      client.invalidateQueries({ queryKey: keys.recordings }),
      client.invalidateQueries({ queryKey: keys.hits }),
    ]);
    const made = hitsNow(client).find(({ id }) => id === hitId);
    const source = client.getQueryData<readonly RecordingView[]>(keys.recordings)?.find(({ id }) => id === recordingId);
    const cut = finish.oneStrike && againMs !== null ? ` A second strike at ${againMs.toFixed(0)} ms was cut off.` : '';
    tell(`${duplicate ? 'Printed before' : 'Printed'}: the hit “${made?.name ?? title}”.${cut}`, {
      durationMs: 10_000,
      action:
        made && source
          ? { label: 'To a pad', onClick: () => lay(stretchOfHit(made, source), null, 'next') }
          : undefined,
    });
    if (!made) router.push('/hits');
  };
  return (
    <Popover className="relative">
      <PopoverButton className="quiet-button">{busy ? 'Printing …' : 'Print …'}</PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-30 w-[340px] rounded-lg border border-edge bg-sheet p-3 shadow-lg [--anchor-gap:6px]"
      >
        {({ close }) => (
          <form
            onSubmit={(event) => {
              event.preventDefault();
              setBusy(true);
              print()
                .catch((error: Error) => complain(error.message))
                .finally(() => setBusy(false));
              close();
            }}
          >
            <label className="flex items-center gap-2">
              Name
              <input
                className="h-7 min-w-0 flex-1 rounded-md border border-line px-2"
                value={name ?? `${hit.name} print`}
                onChange={(event) => setName(event.target.value)}
              />
            </label>
            {TICKS.map(([key, label]) => (
              <label key={key} className="mt-1 flex items-center gap-2">
                <input
                  type="checkbox"
                  checked={finish[key]}
                  onChange={(event) => setFinish({ ...finish, [key]: event.target.checked })}
                />
                {label}
              </label>
            ))}
            <label className="mt-1 flex items-center gap-2">
              <input
                type="checkbox"
                checked={finish.fadeMs > 0}
                onChange={(event) => setFinish({ ...finish, fadeMs: event.target.checked ? USUAL.fadeMs : 0 })}
              />
              fades out over its last 5 ms
            </label>
            <label className="mt-1 flex items-center gap-2">
              <input
                type="checkbox"
                checked={finish.truePeakDbtp !== null}
                onChange={(event) =>
                  setFinish({ ...finish, truePeakDbtp: event.target.checked ? USUAL.truePeakDbtp : null })
                }
              />
              normalised to −1 dBTP, last
            </label>
            <button type="submit" className="next-button mt-2" disabled={busy}>
              Print it
            </button>
            <p className="mt-2 text-[12px] text-soft">
              The printed hit stays as it is; this one stays live. Its notes name every layer, its rights are the
              strictest of theirs.
            </p>
          </form>
        )}
      </PopoverPanel>
    </Popover>
  );
}
