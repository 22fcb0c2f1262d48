/** How strong a recipe is, 0 to 1. */
export function Amount({ amount, onAmount }: { amount: number; onAmount: (amount: number) => void }) {
  return (
    <label className="flex flex-none items-center gap-2 px-2 pb-2 text-[12px]">
      Amount
      <input
        type="range"
        className="flex-1 accent-verdigris"
        min={0}
        max={1}
        step={0.05}
        value={amount}
        onChange={(event) => onAmount(Number(event.target.value))}
      />
      <span className="figure w-[42px] text-right">{Math.round(amount * 100)} %</span>
    </label>
  );
}
