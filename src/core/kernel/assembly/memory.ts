// Memory that is handed out upwards and freed downwards.

let top: usize = __heap_base;

/** Where memory is free from; handed back to `release` it frees all that was reserved since. */
export function mark(): usize {
  return top;
}

export function release(to: usize): void {
  top = to;
}

export function reserve(bytes: usize): usize {
  const from = (top + 15) & ~15;
  top = from + bytes;
  const missing = <i32>((top + 0xffff) >>> 16) - memory.size();
  if (missing > 0) memory.grow(missing);
  return from;
}
