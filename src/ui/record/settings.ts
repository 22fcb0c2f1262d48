import { CAPTURE_PARAMETERS, type CaptureSettings } from '@/core/capture/parameters';
import { filled } from '@/core/parameter/values';
import { createStore } from '../parts/store';

const KEY = 'undercroft.recording';

/** How this browser records. */
export const captureSettings = createStore<CaptureSettings>(filled(CAPTURE_PARAMETERS, {}));

/** Takes up the browser's settings. */
export function readCaptureSettings(): void {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<CaptureSettings>;
    captureSettings.set(filled(CAPTURE_PARAMETERS, kept));
  } catch {
    // Whatever stands there is not ours.
  }
}

export function setCapture(set: Partial<CaptureSettings>): void {
  const settings = { ...captureSettings.get(), ...set };
  captureSettings.set(settings);
  localStorage.setItem(KEY, JSON.stringify(settings));
}
