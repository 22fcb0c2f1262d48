import { routeOf } from './buses';
import { followsTempo } from './fit';
import type { Bus, Pad } from './model';
import { type LayerWithHit, type PlayedPad, takesOf } from './pad-sound';
import { isPrintedWhole, unsaidInSfz } from './told-in-sfz';

/** The pads of which the SFZ file cannot say everything, and what. */
export function unsaidOf(
  pads: readonly {
    readonly pad: Pad;
    readonly layers: readonly Pick<LayerWithHit, 'layer'>[];
    readonly steps: PlayedPad['steps'];
  }[],
  tempoBpm: number,
  buses: readonly Bus[] = [],
): { readonly name: string; readonly lost: readonly string[] }[] {
  return pads.flatMap(({ pad, layers, steps }) => {
    const takes = takesOf(layers).length;
    const sounds = { takes, layers: layers.length - takes + 1 };
    const lost = isPrintedWhole({ pad, steps }) ? lostWhole({ pad, steps }) : unsaidInSfz(pad, sounds, tempoBpm);
    lost.push(...lostOnBuses(pad, buses));
    return lost.length > 0 ? [{ name: pad.name, lost }] : [];
  });
}

/** What is lost because SFZ has no buses. */
function lostOnBuses(pad: Pad, buses: readonly Bus[]): string[] {
  const { bus, room, echo } = routeOf(pad, buses);
  return [
    ...(bus > 0 ? ['the level and the steps of its bus'] : []),
    ...(room && pad.roomSendDb !== null ? ['what it sends to the room'] : []),
    ...(echo && pad.echoSendDb !== null ? ['what it sends to the echo'] : []),
  ];
}

/** What is lost of a pad whose strokes are printed with all that shapes them. */
function lostWhole({ pad, steps }: Pick<PlayedPad, 'pad' | 'steps'>): string[] {
  const { mode, moves } = pad;
  const byHand = moves.some(({ source, depth }) => depth !== 0 && source !== 'velocity');
  return [
    ...(steps.some(({ active }) => active)
      ? ['steps that hear all strokes together: each is printed with its own']
      : []),
    ...(followsTempo(pad) ? ['a loop that follows the tempo: it is printed at that of the kit'] : []),
    ...(mode === 'one-shot' ? [] : ['how long a stroke is held: it sounds once']),
    ...(byHand ? ['what moves from stroke to stroke: it is printed as one had it'] : []),
  ];
}
