'use client';

import { type PointerEvent, useState } from 'react';
import { useNoteName } from '../../parts/note-names';
import { useStore } from '../../parts/store';
import { plugged, plugSimulated, sendSimulated } from '../../play/simulated';

/** Notes of the device: two octaves and a half from C1, where the kicks lie. */
const LOWEST = 35;
const NOTES = Array.from({ length: 24 }, (_, i) => LOWEST + i);
/** Drums are on channel 10 (MIDI Association RP-003). */
const CHANNEL = 9;

/** A small controller on the screen: it sends true MIDI messages, as one that is plugged in does. */
export function SimulatedDevice() {
  const isIn = useStore(plugged);
  const [pedal, setPedal] = useState(false);
  return (
    <>
      <header className="flex items-center justify-between">
        <h2 className="font-semibold text-[12px] text-soft">Simulated controller</h2>
        <button
          type="button"
          className="rounded px-1 text-[12px] text-verdigris hover:underline"
          title="As if its cable were pulled: no note is left hanging"
          onClick={() => plugSimulated(!isIn)}
        >
          {isIn ? 'Unplug it' : 'Plug it in'}
        </button>
      </header>
      <fieldset
        aria-label="Stones of the controller"
        className={`mt-1 grid min-h-0 flex-1 grid-cols-8 gap-[5px] ${isIn ? '' : 'opacity-40'}`}
      >
        {NOTES.map((note) => (
          <Stone key={note} note={note} />
        ))}
      </fieldset>
      <div className="mt-2 flex items-center gap-4 text-[12px]">
        <Wheel
          label="Wheel"
          onMove={(value) => sendSimulated({ kind: 'controller', channel: CHANNEL, number: 1, value })}
        />
        <Wheel
          label="Pressure"
          springs
          onMove={(value) => sendSimulated({ kind: 'pressure', channel: CHANNEL, value })}
        />
        <button
          type="button"
          className="quiet-button"
          aria-pressed={pedal}
          onClick={() => {
            setPedal(!pedal);
            sendSimulated({ kind: 'controller', channel: CHANNEL, number: 64, value: pedal ? 0 : 127 });
          }}
        >
          {pedal ? 'Pedal is down' : 'Pedal'}
        </button>
      </div>
      <p className="mt-1 text-[12px] text-soft">
        Strike a stone nearer its top for a harder hit; hold it to keep the note down.
      </p>
    </>
  );
}

function Stone({ note }: { note: number }) {
  const noteName = useNoteName();
  const [down, setDown] = useState(false);
  const press = (velocity: number, at: number) => {
    setDown(true);
    sendSimulated({ kind: 'note-on', channel: CHANNEL, note, velocity }, at);
  };
  const letGo = (at: number) => {
    if (!down) return;
    setDown(false);
    sendSimulated({ kind: 'note-off', channel: CHANNEL, note, velocity: 64 }, at);
  };
  const onPointerDown = (event: PointerEvent<HTMLButtonElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    const box = event.currentTarget.getBoundingClientRect();
    const height = (event.clientY - box.top) / box.height;
    press(Math.round(127 - 97 * Math.max(0, Math.min(1, height))), event.timeStamp);
  };
  return (
    <button
      type="button"
      aria-label={`Note ${note}`}
      className={`figure flex min-h-[30px] touch-none select-none flex-col items-center justify-end rounded-t-[14px] border pb-[2px] text-[11px] leading-[13px] ${down ? 'border-madder bg-selection' : 'border-edge bg-paper'}`}
      onPointerDown={onPointerDown}
      onPointerUp={(event) => letGo(event.timeStamp)}
      onPointerCancel={(event) => letGo(event.timeStamp)}
      onKeyDown={(event) => {
        if (event.key !== 'Enter' || event.repeat) return;
        event.preventDefault();
        event.stopPropagation();
        press(100, event.timeStamp);
      }}
      onKeyUp={(event) => event.key === 'Enter' && letGo(event.timeStamp)}
      onBlur={(event) => letGo(event.timeStamp)}
    >
      {note}
      <span className="text-soft">{noteName(note)}</span>
    </button>
  );
}

/** A wheel as a slider; one that springs goes back when it is let go. */
function Wheel({
  label,
  springs = false,
  onMove,
}: {
  label: string;
  springs?: boolean;
  onMove: (value: number) => void;
}) {
  const [value, setValue] = useState(0);
  const move = (next: number) => {
    setValue(next);
    onMove(next);
  };
  const spring = () => springs && value > 0 && move(0);
  return (
    <label className="flex items-center gap-2">
      {label}
      <input
        type="range"
        className="h-6 w-[84px] accent-verdigris"
        min={0}
        max={127}
        value={value}
        onChange={(event) => move(Number(event.target.value))}
        onPointerUp={spring}
        onKeyUp={spring}
        onBlur={spring}
      />
      <span className="figure w-[24px]">{value}</span>
    </label>
  );
}
