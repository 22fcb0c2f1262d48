import { useEffect, useState } from 'react';
import { useLiveRecordings } from '../data/queries';
import { useStore } from '../parts/store';
import type { InputChoice } from './input';
import { recorder } from './recorder';

/** Marks the keys of the machine's inputs in the list. */
const DEVICE = 'device ';

/** The inputs there are, as options, and what choosing one does. The browser names devices once it may use them. */
export function useInputs() {
  const [devices, setDevices] = useState<readonly MediaDeviceInfo[]>([]);
  const phase = useStore(recorder.state, (state) => state.phase);
  const choice = useStore(recorder.choice);
  const [first] = useLiveRecordings();
  useEffect(() => {
    const media = navigator.mediaDevices;
    if (!media) return;
    const look = () =>
      void media.enumerateDevices().then(
        (all) => setDevices(all.filter(({ kind, deviceId }) => kind === 'audioinput' && deviceId !== '')),
        () => setDevices([]),
      );
    // Asked again once an input has been opened: before, names are kept back.
    if (phase !== 'opening') look();
    media.addEventListener('devicechange', look);
    return () => media.removeEventListener('devicechange', look);
  }, [phase]);
  const options: [string, string][] = [
    [DEVICE, 'Microphone or line in'],
    ...devices
      .filter(({ label }) => label !== '')
      .map(({ deviceId, label }): [string, string] => [DEVICE + deviceId, label]),
    ['output', 'Our own output'],
    ['drummer', 'Fairground drummer'],
    ...(first ? [['simulated', 'Simulated input'] as [string, string]] : []),
  ];
  const choose = (key: string) => {
    const wanted = choiceOf(key);
    if (wanted) recorder.choose(wanted);
  };
  const choiceOf = (key: string): InputChoice | null => {
    if (key.startsWith(DEVICE)) {
      const deviceId = key.slice(DEVICE.length);
      const name = devices.find((device) => device.deviceId === deviceId)?.label ?? 'microphone';
      return { kind: 'device', deviceId, name };
    }
    if (key === 'output') return { kind: 'output' };
    if (key === 'drummer') return { kind: 'drummer', rhythm: 0, speed: 1 };
    return first ? { kind: 'simulated', recording: first } : null;
  };
  return { options, choose, chosen: choice.kind === 'device' ? DEVICE + choice.deviceId : choice.kind };
}
