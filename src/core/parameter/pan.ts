/** A pan, -1 left .. 1 right, shown as per cent of either side. */
export const PAN = {
  unit: '%',
  low: -1,
  high: 1,
  step: 0.05,
  fine: 0.01,
  digits: 0,
  initial: 0,
  bipolar: true,
  times: 100,
  sides: ['% left', 'centre', '% right'],
} as const;
