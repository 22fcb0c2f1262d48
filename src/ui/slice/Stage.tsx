'use client';

import { useEffect, useRef } from 'react';
import type { Stored } from '@/contract/documents';
import type { PadSettings } from '@/core/kit/model';
import type { Slice } from '@/core/recording/model';
import { COLONNADE_HEIGHT, type SliceShown } from '@/picture/colonnade';
import type { ShownLevel } from '@/picture/levelled-wave';
import type { MarkedStretch } from '@/picture/span';
import type { Time } from '@/picture/time';
import { useSize } from '../parts/canvas';
import { useRestedSpan, useZoomWheel } from '../parts/use-span';
import type { ShelvedSlice } from '../shelves/use-heard';
import { Keystones, StretchHandle } from './Handles';
import { type Pictures, usePicture } from './use-pictures';
import { usePlayhead } from './use-playhead';
import { type StageHandProps, useStageHand } from './use-stage-hand';

interface StageProps extends StageHandProps {
  readonly arrivals: number;
  readonly pictures: Pictures;
  /** Parts that are shown with the level they will have. */
  readonly levels: readonly ShownLevel[];
  /** The stored slices, which are dragged onto pads and need not follow an edge being dragged. */
  readonly stored: readonly Stored<Slice>[];
  readonly selected: ReadonlySet<string>;
  readonly time: Time;
  readonly stretch: MarkedStretch | null;
  /** Makes a slice of the marked stretch; null where the chosen slice cannot be told to keep sound up to its end. */
  readonly onSliceStretch: () => void;
  readonly onKeepStretch: (() => void) | null;
  /** Settings of the pads that sounds from here are laid on. */
  readonly pad: PadSettings | undefined;
  /** What slices are described as, by their ids. */
  readonly heard: ReadonlyMap<string, ShelvedSlice>;
}

/** Time the view must rest before its keystones can be grasped. */
const REST_MS = 80;

/** The colonnade over the wave, drawn by a worker, with what the pointer does there. */
export function Stage(props: StageProps) {
  const { recording, source, arrivals, pictures, slices, chosenId, selected, time, marks } = props;
  const { spans, gain, stretch, widthRef, levels } = props;
  const size = useSize(widthRef);
  const restedSpan = useRestedSpan(spans, REST_MS);
  const playhead = useRef<HTMLDivElement>(null);

  usePicture(pictures, 'stage', widthRef, size);
  useEffect(() => pictures.show('stage', { slices: slices.map(shownOf) }), [pictures, slices]);
  useEffect(
    () => pictures.show('stage', { chosenId, selected, time, marks, stretch, gain, levels }),
    [pictures, chosenId, selected, time, marks, stretch, gain, levels],
  );
  useEffect(() => {
    const show = () => pictures.show('stage', { span: spans.get() });
    show();
    return spans.subscribe(show);
  }, [pictures, spans]);
  usePlayhead(playhead, recording, slices, spans, pictures);

  useZoomWheel(widthRef, spans, recording.frames);
  const hand = useStageHand(props, size);

  return (
    <div
      ref={widthRef}
      className="relative min-h-0 flex-1 touch-none select-none overflow-hidden bg-sheet"
      data-testid="stage"
      {...hand}
    >
      <div
        ref={playhead}
        className="pointer-events-none absolute bottom-0 left-0 w-[2px] bg-madder will-change-transform"
        style={{ top: COLONNADE_HEIGHT, visibility: 'hidden' }}
      />
      <Keystones
        recording={recording}
        slices={props.stored}
        source={source}
        arrivals={arrivals}
        span={restedSpan}
        width={size.width}
        pad={props.pad}
        heard={props.heard}
        onChoose={props.onChoose}
      />
      {arrivals === 0 && recording.frames > 0 && (
        <p
          role="status"
          className="pointer-events-none absolute inset-x-0 text-center text-soft"
          style={{ top: COLONNADE_HEIGHT + 40 }}
        >
          Fetching the wave …
        </p>
      )}
      {stretch && (
        <StretchHandle
          recording={recording}
          stretch={stretch}
          spans={spans}
          pad={props.pad}
          onSlice={props.onSliceStretch}
          onKeep={props.onKeepStretch}
        />
      )}
    </div>
  );
}

/** What the picture tells of a slice. */
function shownOf({ id, startFrame, endFrame, family, name, locked }: Stored<Slice>): SliceShown {
  return { id, startFrame, endFrame, family, name, locked };
}
