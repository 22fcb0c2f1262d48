import { useHotkeys } from 'react-hotkeys-hook';
import { pageKey } from '../parts/focus';
import { useStore } from '../parts/store';
import { keepTrial, stepTrial, trial } from './trial';

/** What is offered in place of the groove: the arrows go through it, Enter keeps, Escape goes back. */
export function TrialBar() {
  const now = useStore(trial);
  useHotkeys('left, up', () => stepTrial(-1), pageKey);
  useHotkeys('right, down', () => stepTrial(1), pageKey);
  useHotkeys('enter', keepTrial, pageKey);
  useHotkeys('escape', () => trial.set(null), pageKey);
  if (!now) return null;
  const offer = now.offers[now.at];
  return (
    <div
      role="status"
      className="flex min-h-10 flex-none items-center gap-2 border-verdigris border-b-2 bg-selection px-4 py-1"
    >
      <span className="font-semibold">{offer?.name}</span>
      <span className="text-soft">
        {now.of}, {now.at + 1} of {now.offers.length}, not kept yet
      </span>
      <button type="button" className="quiet-button px-2" aria-label="The one before" onClick={() => stepTrial(-1)}>
        ◂
      </button>
      <button type="button" className="quiet-button px-2" aria-label="The next one" onClick={() => stepTrial(1)}>
        ▸
      </button>
      {now.again && (
        <button type="button" className="quiet-button" onClick={now.again}>
          Others
        </button>
      )}
      <span className="ml-auto text-[12px] text-soft">arrows go through them</span>
      <button type="button" className="next-button" title="Enter" onClick={keepTrial}>
        Keep
      </button>
      <button type="button" className="quiet-button" title="Escape" onClick={() => trial.set(null)}>
        Back
      </button>
    </div>
  );
}
