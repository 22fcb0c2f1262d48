import { rendered } from '../../renders/sound';
import { RenderStore } from '../../renders/store';
import { carried } from '../carried';
import type { RoleOf, Stage } from './role';

/** Renders hits one after another and stores the results. */
export function rendering({ db, workspace, say, beat, quiet }: Stage): RoleOf {
  const store = RenderStore.of(workspace);
  return (message) => {
    if (message.type === 'render') {
      const { key, hit } = message;
      try {
        rendered(db, store, hit, beat);
        say({ type: 'rendered', key });
      } catch (error) {
        say({ type: 'make-failed', key, error: carried(error) });
      }
    }
    quiet();
  };
}
