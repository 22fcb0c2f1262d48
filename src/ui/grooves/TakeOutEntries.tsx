import { ActionItems } from '../parts/ActionItems';
import { useDeskNow } from './desk-now';
import { waysOut } from './ways-out';

/** The entries of how a groove leaves. */
export function TakeOutEntries() {
  const { desk } = useDeskNow();
  return <ActionItems actions={waysOut(desk)} />;
}
