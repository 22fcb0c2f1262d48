import type { Order } from './listing';

/** A column header that sorts. */
export function ListHead({
  column,
  label,
  order,
  onSort,
  right = false,
}: {
  column: string;
  label: string;
  order: Order;
  onSort: (column: string) => void;
  right?: boolean;
}) {
  const here = order.by === column;
  return (
    <button
      type="button"
      aria-label={`Sort by ${label}`}
      aria-pressed={here}
      className={`truncate rounded px-0 hover:text-ink ${right ? 'text-right' : 'text-left'} ${here ? 'text-ink' : ''}`}
      onClick={() => onSort(column)}
    >
      {label} <span aria-hidden>{here ? (order.down ? '↓' : '↑') : ''}</span>
    </button>
  );
}
