'use client';

interface SmallTabsProps<T extends string> {
  readonly label: string;
  readonly tabs: readonly (readonly [name: T, label: string, title: string])[];
  readonly shown: T;
  readonly onShow: (tab: T) => void;
  readonly className?: string;
}

/** Tabs in the size of a heading, above what they show. */
export function SmallTabs<T extends string>({ label, tabs, shown, onShow, className = '' }: SmallTabsProps<T>) {
  return (
    <div role="tablist" aria-label={label} className={`flex gap-3 text-[12px] ${className}`}>
      {tabs.map(([name, text, title]) => (
        <button
          key={name}
          type="button"
          role="tab"
          aria-selected={shown === name}
          title={title}
          className={shown === name ? 'font-semibold text-verdigris' : 'text-soft hover:text-ink hover:underline'}
          onClick={() => onShow(name)}
        >
          {text}
        </button>
      ))}
    </div>
  );
}
