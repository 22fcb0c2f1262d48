'use client';

import { useQueryClient } from '@tanstack/react-query';
import type { KitDocs, KitListEntry, KitView } from '@/contract/views';
import { freeName } from '@/core/naming/names';
import { getJson } from '../data/api';
import { useCommands } from '../data/commit';
import { keys, useVersions } from '../data/queries';
import { heardVersion } from '../pads/kit-context';
import { complain, tell } from '../parts/notice';
import { useStore } from '../parts/store';
import { keptVersion, restoredVersion } from './edits';

const newId = () => crypto.randomUUID();

/** Versions of the kit that were kept on purpose: heard in its place while it plays, brought back, dropped. */
export function VersionRows({ view }: { view: KitView }) {
  const { commit } = useCommands();
  const client = useQueryClient();
  const versions = useVersions(view.kit.id);
  const heard = useStore(heardVersion);
  const keep = async () => {
    const taken = new Set(versions.map(({ name }) => name));
    const name = freeName(`${view.kit.name}, version ${versions.length + 1}`, taken);
    if (!(await commit(`kept a version of ${view.kit.name}`, keptVersion(view, name, Date.now(), newId)))) return;
    await client.refetchQueries({ queryKey: keys.kits });
    tell(`${name} is kept: it can be heard in the kit's place, and brought back.`);
  };
  const withVersion = (id: string, work: (version: KitDocs) => void) =>
    client
      .fetchQuery({ queryKey: keys.kit(id), queryFn: () => getJson<KitDocs>(`/api/kits/${id}`) })
      .then(work, (error: Error) => complain(error.message));
  const restore = ({ id, name }: KitListEntry) =>
    withVersion(id, (version) => {
      heardVersion.set(null);
      void commit(`brought back ${name}`, restoredVersion(view, version, newId));
      tell(`The kit is what ${name} was; Ctrl Z takes that back.`);
    });
  const drop = ({ id, name }: KitListEntry) =>
    withVersion(id, ({ kit }) => {
      if (heard === id) heardVersion.set(null);
      void commit(`dropped ${name}`, [{ op: 'remove', doc: 'kit', id, rev: kit.rev }]);
    });
  return (
    <section aria-label="Versions" className="mt-1 min-h-0 overflow-y-auto">
      <p className="flex items-baseline justify-between gap-3 text-[12px] text-soft">
        {versions.length === 0
          ? 'None yet: keep the kit as it is before you change it.'
          : 'How it was, with its pads and buses'}
        <button type="button" className="flex-none text-verdigris hover:underline" onClick={() => void keep()}>
          keep this one
        </button>
      </p>
      {versions.map((version) => (
        <div key={version.id} className="flex h-[26px] items-center gap-3 border-line border-b text-[12px]">
          <span className="min-w-0 flex-1 truncate" title={version.name}>
            {version.name.replace(`${view.kit.name}, `, '')}
          </span>
          <span className="figure text-soft">{whenOf(version.keptAt)}</span>
          <button
            type="button"
            aria-pressed={heard === version.id}
            title="Its sounds on the pads in place of the kit's, also while it plays"
            className={heard === version.id ? 'font-semibold text-madder' : 'text-verdigris hover:underline'}
            onClick={() => heardVersion.set(heard === version.id ? null : version.id)}
          >
            {heard === version.id ? 'heard' : 'hear'}
          </button>
          <button type="button" className="text-verdigris hover:underline" onClick={() => restore(version)}>
            bring back
          </button>
          <button
            type="button"
            aria-label={`Drop ${version.name}`}
            className="text-soft hover:text-madder"
            onClick={() => drop(version)}
          >
            drop
          </button>
        </div>
      ))}
    </section>
  );
}

function whenOf(ms: number | null): string {
  return ms === null
    ? ''
    : new Date(ms).toLocaleString(undefined, { month: 'short', day: 'numeric', hour: '2-digit', minute: '2-digit' });
}
