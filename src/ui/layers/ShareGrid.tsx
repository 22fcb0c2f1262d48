import type { HitView } from '@/contract/views';
import { bandLevels } from '@/core/hit/key';
import { OUT_DB } from '@/core/layering/parameters';
import { LAYER_TINTS } from '@/picture/shares';

/** What a click on a band goes through: full, faded so that some body stays, out. */
const FADED_DB = -9;
const LEVELS = [0, FADED_DB, OUT_DB] as const;

interface ShareGridProps {
  readonly hit: HitView;
  readonly onSet: (place: number, band: number, db: number) => void;
}

/** How much each layer has of each band. */
export function ShareGrid({ hit, onSet }: ShareGridProps) {
  const { edgesHz, members } = hit;
  const bands = Array.from({ length: edgesHz.length + 1 }, (_, band) => bandName(edgesHz, band));
  return (
    <div className="flex-none overflow-auto">
      <table className="text-[12px]">
        <thead>
          <tr>
            <th className="sr-only">Layer</th>
            {bands.map((band) => (
              <th key={band} className="figure px-1 text-left font-normal text-soft">
                {band}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {members.map((member, place) => (
            <tr key={member.id}>
              <th scope="row" className="max-w-[110px] truncate pr-1 text-left font-normal">
                <span
                  className="mr-1 inline-block h-2 w-2 rounded-full"
                  style={{ background: `var(--${LAYER_TINTS[place % LAYER_TINTS.length]})` }}
                />
                {member.hit.name}
              </th>
              {bandLevels(member, edgesHz).map((db, band) => (
                <td key={bands[band]} className="px-0.5">
                  <button
                    type="button"
                    className={`h-[22px] w-[64px] rounded border border-line ${db <= OUT_DB ? 'text-soft' : db < 0 ? 'bg-selection' : 'bg-verdigris text-sheet'}`}
                    aria-label={`${member.hit.name} ${bands[band]}: ${told(db)}`}
                    title="Full, faded by 9 dB, or out"
                    onClick={() => onSet(place, band, nextLevel(db))}
                  >
                    {told(db)}
                  </button>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function told(db: number): string {
  if (db <= OUT_DB) return 'out';
  return db < 0 ? `−${Math.abs(db)} dB` : 'full';
}

function nextLevel(db: number): number {
  const at = LEVELS.findIndex((level) => level <= db);
  return LEVELS[(at + 1) % LEVELS.length] as number;
}

function bandName(edgesHz: readonly number[], band: number): string {
  const [from, to] = [edgesHz[band - 1], edgesHz[band]];
  if (from === undefined) return `to ${to} Hz`;
  return to === undefined ? `over ${from}` : `${from}–${to}`;
}
