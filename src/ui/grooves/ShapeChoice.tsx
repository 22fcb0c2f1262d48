import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { useState } from 'react';
import { SHAPE_PARAMETERS, type Shape } from '@/core/groove/shapes';
import { initialValues } from '@/core/parameter/values';
import { ParameterRows } from '../parts/ParameterRows';

/** Fills the bars under work with a shape, to be edited afterwards. */
export function ShapeChoice({ onFill }: { onFill: (shape: Shape, seed: number) => void }) {
  const [shape, setShape] = useState<Shape>(() => initialValues(SHAPE_PARAMETERS));
  return (
    <Popover className="relative">
      <PopoverButton className="text-verdigris hover:underline">Shape …</PopoverButton>
      <PopoverPanel
        anchor="top start"
        className="z-40 w-[340px] rounded-lg border border-edge bg-sheet p-3 text-[13px] shadow-lg"
      >
        {({ close }) => (
          <>
            <ParameterRows
              of={SHAPE_PARAMETERS}
              keys={['form', 'middle', 'depth', 'period']}
              values={shape}
              onSet={(_, set) => setShape({ ...shape, ...set })}
            />
            <button
              type="button"
              className="next-button mt-2"
              onClick={() => {
                onFill(shape, Math.floor(Math.random() * 0xffffff));
                close();
              }}
            >
              Fill the bars under work
            </button>
          </>
        )}
      </PopoverPanel>
    </Popover>
  );
}
