'use client';

import { Radio, RadioGroup } from '@headlessui/react';
import type { ChoiceParameter, SwitchParameter, ValueOf } from '@/core/parameter/parameter';
import { optionsOf } from '@/core/parameter/values';
import { Choice, type ChoiceProps } from './Choice';

/** A choice or switch with its label, as a line of a panel or as a row beside parameters. */
export function ChoiceLine<P extends ChoiceParameter | SwitchParameter>({
  of,
  value,
  row = false,
  onChoose,
}: {
  of: P;
  value: ValueOf<P>;
  row?: boolean;
  onChoose: (value: ValueOf<P>) => void;
}) {
  const options = optionsOf(of);
  return (
    <div className={`flex items-center gap-2 ${row ? 'h-[26px] border-line border-b' : 'h-8'}`}>
      <span className={row ? 'w-[104px] flex-none' : 'flex-1'}>{of.label}</span>
      {row && options.length === 2 ? (
        <Either label={of.label} value={value} options={options} onChoose={(v) => onChoose(v as ValueOf<P>)} />
      ) : (
        <Choice
          label={of.label}
          value={value as string}
          options={options}
          onChoose={(v) => onChoose(v as ValueOf<P>)}
        />
      )}
    </div>
  );
}

/** One of two, both visible. */
function Either({ label, value, options, onChoose }: ChoiceProps<string | number | boolean>) {
  return (
    <RadioGroup
      aria-label={label}
      value={value}
      onChange={onChoose}
      className="flex overflow-hidden rounded-md border border-line"
    >
      {options.map(([v, text]) => (
        <Radio
          key={String(v)}
          value={v}
          data-value={String(v)}
          className="cursor-pointer px-2 leading-[20px] data-checked:bg-verdigris data-checked:text-on-ink"
        >
          {text}
        </Radio>
      ))}
    </RadioGroup>
  );
}
