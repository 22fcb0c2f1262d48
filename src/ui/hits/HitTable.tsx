'use client';

import { useDraggable } from '@dnd-kit/core';
import { memo } from 'react';
import { isLayered } from '@/core/hit/key';
import { LONGEST_NAME } from '@/core/naming/names';
import { useCommands } from '../data/commit';
import { stretchOfHit } from '../pads/laying';
import { FamilySelect } from '../parts/FamilySelect';
import { length, pitch } from '../parts/figures';
import { Glyph } from '../parts/Glyph';
import { HitMini } from '../parts/HitMini';
import { ListHead } from '../parts/ListHead';
import { type Listing, selectModeOf } from '../parts/listing';
import { RightsMark } from '../parts/RightsMark';
import { levelText, stepsText } from '../parts/steps';
import { TextField } from '../parts/TextField';
import { VirtualRows } from '../parts/VirtualRows';
import { setHits } from './edits';
import type { HitRow } from './row';

const ROW = 36;
const COLUMNS =
  'grid grid-cols-[22px_minmax(150px,1.2fr)_112px_minmax(120px,1.4fr)_64px_112px_76px_minmax(110px,1fr)_minmax(60px,0.7fr)] items-center gap-3 px-3';

interface Props {
  readonly listing: Listing<HitRow>;
  readonly onHear: (hit: HitRow) => void;
  readonly nothing: string;
}

/** The hits as a table; rows can be dragged to pads. */
export function HitTable({ listing, onHear, nothing }: Props) {
  const { shown, index, order, sortBy } = listing;
  const head = (column: string, label: string, right = false) => (
    <ListHead column={column} label={label} order={order} onSort={sortBy} right={right} />
  );
  return (
    <section aria-label="Hits" className="flex min-h-0 flex-1 flex-col">
      <div className={`${COLUMNS} h-7 flex-none border-b border-line text-[12px] font-medium text-soft`}>
        <span />
        {head('name', 'Name')}
        {head('family', 'Family')}
        <span>Wave</span>
        {head('length', 'Length', true)}
        {head('root', 'Root', true)}
        {head('level', 'Level', true)}
        {head('source', 'From')}
        {head('kits', 'Kits')}
      </div>
      <VirtualRows
        count={shown.length}
        height={ROW}
        index={index}
        keyOf={(i) => (shown[i] as HitRow).id}
        nothing={<p className="p-6 text-soft">{nothing}</p>}
      >
        {(i) => {
          const hit = shown[i] as HitRow;
          return (
            <Row
              hit={hit}
              chosen={i === index}
              selected={listing.isSelected(hit.id)}
              onChoose={(event) => listing.choose(hit.id, selectModeOf(event))}
              onHear={() => onHear(hit)}
            />
          );
        }}
      </VirtualRows>
    </section>
  );
}

interface RowProps {
  readonly hit: HitRow;
  readonly chosen: boolean;
  readonly selected: boolean;
  readonly onChoose: (event: React.MouseEvent) => void;
  readonly onHear: () => void;
}

const Row = memo(
  function Row({ hit, chosen, selected, onChoose, onHear }: RowProps) {
    const { commit } = useCommands();
    const { recording } = hit;
    const { setNodeRef, listeners } = useDraggable({
      id: `hit-${hit.id}`,
      data: recording ? { stretch: stretchOfHit(hit, recording) } : {},
    });
    return (
      // biome-ignore lint/a11y/useKeyWithClickEvents: the arrow keys of the page choose rows
      // biome-ignore lint/a11y/noStaticElementInteractions: see above
      <div
        ref={setNodeRef}
        {...listeners}
        onClick={onChoose}
        onDoubleClick={onHear}
        data-testid="hit"
        data-chosen={chosen || undefined}
        className={`${COLUMNS} h-full cursor-grab border-b border-line ${selected ? 'bg-selection' : 'hover:bg-paper'} ${chosen ? 'shadow-[inset_3px_0_0_var(--verdigris)]' : ''}`}
      >
        <Glyph family={hit.family} />
        <div className="min-w-0">
          <TextField
            label="Name of the hit"
            value={hit.name}
            maxLength={LONGEST_NAME}
            className="w-full font-semibold"
            onCommit={(name) => void commit(`renamed ${hit.name} to ${name}`, setHits([hit], { name }))}
          />
          {(hit.doubt || hit.strikes.length > 0) && (
            <p className="truncate text-[12px] leading-[14px] text-madder" title={hit.doubt}>
              {hit.strikes.length > 0 ? `Holds ${hit.strikes.length + 1} strikes. ` : ''}
              {hit.doubt}
            </p>
          )}
        </div>
        <FamilySelect
          quiet
          label={`Family of ${hit.name}`}
          value={hit.family}
          onChoose={(family) =>
            void commit(`${hit.name} is ${family ?? 'of no family'}`, setHits([hit], { family, doubt: '' }))
          }
        />
        {recording ? <HitMini hit={hit} recording={recording} height={28} /> : <span />}
        <span className="figure text-right text-[12px]">
          {recording && !isLayered(hit) && length((hit.endFrame - hit.startFrame) / recording.sampleRate)}
        </span>
        <span className="figure text-right text-[12px]">{hit.rootHz !== null && `${pitch(hit.rootHz)} ct`}</span>
        <span className="figure truncate text-right text-[12px]" title={stepsText(hit)}>
          {levelText(hit)}
        </span>
        <span className="flex min-w-0 items-center gap-1 text-[12px]">
          <RightsMark rights={hit.rights} />
          <span className="truncate">{isLayered(hit) ? `${hit.members.length} layers` : recording?.title}</span>
        </span>
        <span className="truncate text-[12px] text-soft" title={hit.kits.join(', ')}>
          {hit.kits.join(', ')}
        </span>
      </div>
    );
  },
  (a, b) => a.hit === b.hit && a.chosen === b.chosen && a.selected === b.selected,
);
