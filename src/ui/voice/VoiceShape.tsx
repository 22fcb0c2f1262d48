import { memo } from 'react';
import type { VoiceSettings } from '@/core/voice/parameters';
import { type PartShape, partShapes, pitchShape } from '@/core/voice/shape';
import { RULER } from '@/picture/treated';

const COLOURS: Readonly<Record<PartShape['part'], string>> = {
  tone: 'var(--slate)',
  noise: 'var(--ochre)',
  metal: 'var(--plum)',
};
/** Points of a line, a few pixels apart. */
const STEP_PX = 3;
/** The pitches between the bottom and the top of the wave. */
const [LOWEST_HZ, HIGHEST_HZ] = [20, 12_000];

interface VoiceShapeProps {
  readonly voice: VoiceSettings;
  readonly width: number;
  readonly height: number;
  readonly start: number;
  readonly framesPerPixel: number;
  readonly sampleRate: number;
}

/** The envelopes of a voice's parts and the sweep of its tone, drawn on its wave. */
export const VoiceShape = memo(function VoiceShape(props: VoiceShapeProps) {
  const { voice, width, height, start, framesPerPixel, sampleRate } = props;
  if (width <= 0 || height <= RULER) return null;
  const middle = (height - RULER) / 2;
  const line = (yAt: (ms: number) => number) => {
    const points: string[] = [];
    for (let x = 0; x <= width; x += STEP_PX) {
      const ms = ((start + x * framesPerPixel) / sampleRate) * 1000;
      if (ms >= 0) points.push(`${x},${(RULER + yAt(ms)).toFixed(1)}`);
    }
    return points.join(' ');
  };
  const pitch = pitchShape(voice);
  const span = Math.log(HIGHEST_HZ / LOWEST_HZ);
  const parts = partShapes(voice);
  return (
    <svg
      className="pointer-events-none absolute inset-0"
      width={width}
      height={height}
      role="img"
      aria-label={`Envelopes of ${parts.map(({ part }) => part).join(', ')}${pitch ? ' and the sweep of the pitch' : ''}`}
    >
      {parts.map(({ part, gainAt }) => (
        <polyline
          key={part}
          points={line((ms) => middle - (middle - 2) * Math.min(1, gainAt(ms)))}
          fill="none"
          stroke={COLOURS[part]}
          strokeWidth={1.8}
        />
      ))}
      {pitch && (
        <polyline
          points={line((ms) => (height - RULER) * (1 - Math.log(Math.max(LOWEST_HZ, pitch(ms)) / LOWEST_HZ) / span))}
          fill="none"
          stroke="var(--madder)"
          strokeWidth={1.5}
          strokeDasharray="5 4"
        />
      )}
      <g fontSize={11} fontFamily="var(--font-figure)">
        {parts.map(({ part }, i) => (
          <text key={part} x={width - 84} y={RULER + 14 + 14 * i} fill={COLOURS[part]}>
            {part}
          </text>
        ))}
        {pitch && (
          <text x={width - 84} y={RULER + 14 + 14 * parts.length} fill="var(--madder)">
            pitch - -
          </text>
        )}
      </g>
    </svg>
  );
});
