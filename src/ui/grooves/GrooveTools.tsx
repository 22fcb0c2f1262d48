import { memo } from 'react';
import type { GrooveView } from '@/contract/views';
import { GROOVE_PARAMETERS } from '@/core/groove/parameters';
import { STEPS } from '@/core/groove/time';
import { LONGEST_NAME } from '@/core/naming/names';
import { useCommands } from '../data/commit';
import { Choice } from '../parts/Choice';
import { NumberField } from '../parts/NumberField';
import { TextField } from '../parts/TextField';
import { useTaps } from '../parts/use-taps';
import { BarEntries } from './BarEntries';
import { GrooveChoice } from './GrooveChoice';
import { More } from './More';
import { NoteEntries } from './NoteEntries';
import { player } from './player';
import { TakeOutEntries } from './TakeOutEntries';
import { Timing } from './Timing';
import { ToolMenu } from './ToolMenu';
import type { GrooveDesk } from './use-groove-desk';
import { usePlayIn } from './use-play-in';

const STEP_OPTIONS = STEPS.map(([ticks, label]) => [ticks, `steps ${label}`] as const);

/** What the line of tools shows; what its menus work on they read when they are opened. */
type GrooveToolsProps = Pick<
  GrooveDesk,
  'step' | 'setStep' | 'bar' | 'lastBar' | 'plays' | 'setPlays' | 'follows' | 'setFollows' | 'isRunning'
> & { readonly groove: GrooveView['groove']; readonly selected: number };

/** The line over the grid: name, tempo, steps, what is played, timing, bars, and how it gets out. */
export const GrooveTools = memo(function GrooveTools(props: GrooveToolsProps) {
  const { groove, step, bar, lastBar, plays, follows, isRunning, selected } = props;
  const { commit } = useCommands();
  const set = (label: string, fields: Partial<GrooveView['groove']>) =>
    void commit(label, [{ op: 'update', doc: 'groove', id: groove.id, rev: groove.rev, set: fields }]);
  const setTempo = (bpm: number) => set(`set the tempo of ${groove.name} to ${bpm} BPM`, { bpm });
  const tap = useTaps(setTempo);
  const into = usePlayIn(isRunning);
  return (
    <div className="flex min-h-10 flex-none flex-wrap items-center gap-2 border-line border-b bg-sheet px-4 py-1">
      <TextField
        label="Name of the groove"
        className="w-[120px] font-semibold"
        value={groove.name}
        maxLength={LONGEST_NAME}
        onCommit={(name) => set(`renamed ${groove.name} to ${name}`, { name })}
      />
      <GrooveChoice />
      <NumberField of={GROOVE_PARAMETERS.bpm} value={groove.bpm} inline onCommit={setTempo} />
      <button type="button" className="quiet-button px-2" title="Tap the beat four times or more" onClick={tap}>
        Tap
      </button>
      <Choice label="Steps" className="quiet-button" value={step} options={STEP_OPTIONS} onChoose={props.setStep} />
      <Timing swing={groove.swing} />
      <ToolMenu label="Bars …" width="w-[300px]" Entries={BarEntries} />
      <ToolMenu label={selected > 0 ? `${selected} notes …` : 'Notes …'} width="w-[280px]" Entries={NoteEntries} />
      <Choice
        label="Plays"
        className="quiet-button"
        value={plays}
        options={[
          ['all', 'plays all'],
          ['bar', `plays bar ${bar + 1}`],
          ['stretch', lastBar > bar ? `plays ${bar + 1} to ${lastBar + 1}` : 'plays the stretch'],
        ]}
        onChoose={props.setPlays}
      />
      <button
        type="button"
        className="quiet-button whitespace-nowrap"
        aria-pressed={follows}
        title="Whether the bar under work stays as the loop goes on, or goes along with it"
        onClick={() => props.setFollows(!follows)}
      >
        {follows ? 'Goes along' : `Stays on ${bar + 1}`}
      </button>
      <More />
      <span className="ml-auto" />
      <button
        type="button"
        aria-pressed={into.isIn}
        className={`quiet-button whitespace-nowrap ${into.isIn ? 'border-madder font-semibold text-madder' : ''}`}
        title="What is played on the pads while it runs goes into the groove"
        onClick={() => into.setIn(!into.isIn)}
      >
        {into.isIn ? 'Playing in' : 'Play in'}
      </button>
      {into.isIn && (
        <>
          <Turn
            title="Whether what is played in goes to the grid's steps"
            states={['as played', 'to the steps']}
            isOn={into.isQuantised}
            onTurn={into.setQuantised}
          />
          <Turn
            title="Whether what is played goes beside what is there, or in its place"
            states={['beside', 'in its place']}
            isOn={into.replaces}
            onTurn={into.setReplaces}
          />
        </>
      )}
      <button
        type="button"
        className={isRunning ? 'quiet-button' : 'next-button'}
        title="Space"
        onClick={() => (isRunning ? player.stop() : void player.play())}
      >
        {isRunning ? 'Stop' : 'Play'}
      </button>
      <ToolMenu label="Take it out …" width="w-[280px]" isAtEnd Entries={TakeOutEntries} />
    </div>
  );
});

interface TurnProps {
  readonly title: string;
  readonly states: readonly [off: string, on: string];
  readonly isOn: boolean;
  readonly onTurn: (isOn: boolean) => void;
}

/** A button that says which of two ways is on, and turns it. */
function Turn({ title, states, isOn, onTurn }: TurnProps) {
  return (
    <button
      type="button"
      aria-pressed={isOn}
      className="quiet-button whitespace-nowrap"
      title={title}
      onClick={() => onTurn(!isOn)}
    >
      {states[isOn ? 1 : 0]}
    </button>
  );
}
