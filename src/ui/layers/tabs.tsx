/** What the left half under the lanes shows. */
export type LayersTab = 'adding' | 'sharing' | 'kit';

const TABS: readonly (readonly [LayersTab, string])[] = [
  ['adding', 'Do they add?'],
  ['sharing', 'Shares'],
  ['kit', 'In the kit'],
];

/** The heads of the views under the lanes. */
export function Tabs({ tab, onTab }: { tab: LayersTab; onTab: (tab: LayersTab) => void }) {
  return (
    <div role="tablist" className="flex flex-none gap-3 text-[12px]">
      {TABS.map(([name, label]) => (
        <button
          key={name}
          type="button"
          role="tab"
          aria-selected={tab === name}
          className={tab === name ? 'font-semibold text-ink' : 'text-verdigris hover:underline'}
          onClick={() => onTab(name)}
        >
          {label}
        </button>
      ))}
    </div>
  );
}
