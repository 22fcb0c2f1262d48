import type { BundleAnswer, SuppliedAnswer } from '@/contract/views';
import { answerOf, browserId, tabId } from './api';

const asker = () => new URLSearchParams({ browser: browserId(), tab: tabId });

/** Puts the starter kit and its hits into the workspace. */
export async function putSupplied(): Promise<SuppliedAnswer> {
  return answerOf<SuppliedAnswer>(await fetch(`/api/supplied?${asker()}`, { method: 'POST' }));
}

/** Opens a bundle as a kit of the workspace. */
export async function openBundle(zip: Blob): Promise<BundleAnswer> {
  return answerOf<BundleAnswer>(await fetch(`/api/kits?${asker()}`, { method: 'POST', body: zip }));
}
