import type { PointerEvent } from 'react';
import { cornerChannels } from '@/core/model/channels';
import { channelWords } from './channel-words';
import { type BlurPoint, type CornerChannel, hangs, type Hold, type Laid, type Place } from './move-frame';

/** The parts of the frame of what moves. */

/** Most ticks of the path, and half the length of each, screen px. */
const [mostTicks, tickHalf] = [300, 4];

/** The handlers of a part that can be held. @param corner what is pulled alone with Alt. */
export type Held = (
  does: Hold['does'],
  corner?: CornerChannel,
) => {
  onPointerDown(event: PointerEvent<Element>): void;
  onPointerMove(event: PointerEvent<Element>): void;
  onPointerUp(event: PointerEvent<Element>): void;
  onPointerCancel(): void;
  style: { pointerEvents: 'auto'; touchAction: 'none' };
};

export function Lines({ laid, dots, frame }: { laid: Laid; dots: readonly Place[]; frame: number }) {
  const outline = laid.corners.map((place) => place.join(',')).join(' ');
  const { top, knob } = laid;
  return (
    <>
      <polygon points={outline} fill="none" stroke="#000" strokeOpacity={0.55} strokeWidth={3.5} />
      <polygon points={outline} fill="none" stroke="#fff" strokeWidth={1.4} strokeDasharray="7 5" />
      {pathTicks(dots, frame).map((d, k) => (
        <g key={k}>
          <path d={d} stroke="#000" strokeOpacity={0.6} strokeWidth={3.2} />
          <path d={d} stroke="#fff" strokeWidth={1.6} />
        </g>
      ))}
      <line x1={top[0]} y1={top[1]} x2={knob[0]} y2={knob[1]} stroke="#fff" strokeWidth={1.4} />
    </>
  );
}

/** A tick across the way of the middle on each frame but the one in view, so that speed is seen as spacing. */
function pathTicks(dots: readonly Place[], frame: number): string[] {
  const every = Math.max(1, Math.ceil(dots.length / mostTicks));
  return dots.flatMap(([x, y], k) => {
    const [before, after] = [dots[Math.max(0, k - 1)], dots[Math.min(dots.length - 1, k + 1)]];
    const [dx, dy] = [after[0] - before[0], after[1] - before[1]];
    const length = Math.hypot(dx, dy);
    if (k % every > 0 || k === frame || length < 0.01) return [];
    const [ux, uy] = [(-dy / length) * tickHalf, (dx / length) * tickHalf];
    return [`M${x - ux} ${y - uy}L${x + ux} ${y + uy}`];
  });
}

interface PartProps {
  laid: Laid;
  held: Held;
}

export function TurnKnob({ laid: { knob }, held }: PartProps) {
  return (
    <circle
      cx={knob[0]}
      cy={knob[1]}
      r={6.5}
      fill="#fff"
      stroke="#000"
      strokeWidth={1.4}
      cursor="grab"
      aria-label="Turn"
      {...held('turn')}
    >
      <title>Turn: drag round; Shift by steps of 15°</title>
    </circle>
  );
}

export function Corners({ laid: { corners }, held, pullable }: PartProps & { pullable: boolean }) {
  return corners.map(([x, y], k) => (
    <rect
      key={k}
      x={x - 6}
      y={y - 6}
      width={12}
      height={12}
      fill="#fff"
      stroke="#000"
      strokeWidth={1.4}
      cursor={k % 2 ? 'nesw-resize' : 'nwse-resize'}
      aria-label={`Corner ${k + 1}`}
      {...held('scale', pullable ? cornerChannels[k] : undefined)}
    >
      <title>Size: drag to or from the middle{pullable ? '; with Alt this corner alone' : ''}</title>
    </rect>
  ));
}

export function StillPoint({
  laid: { middle, still, stillKnob },
  held,
  onMiddle,
}: PartProps & { onMiddle(): void }) {
  return (
    <>
      {!still && <path d={`M${middle.join(' ')}v${hangs}`} stroke="#fff" strokeOpacity={0.7} />}
      <path
        d={`M${stillKnob.join(' ')}m0 -7l7 7l-7 7l-7 -7z`}
        fill={still ? '#fff' : '#000'}
        fillOpacity={still ? 1 : 0.4}
        stroke={still ? '#000' : '#fff'}
        strokeWidth={1.4}
        cursor="grab"
        aria-label="Still point"
        onDoubleClick={onMiddle}
        {...held('still')}
      >
        <title>
          Still point: drag it to what should stay where it is when size and turn change; press twice for the
          middle
        </title>
      </path>
    </>
  );
}

/** Screen px of a blur's centre: its ring, or its short arms. */
const centreSize = 9;

/** The point that a blur goes towards, or about. */
export function BlurCentre({ channel, at: [x, y], held }: { channel: BlurPoint; at: Place; held: Held }) {
  const r = centreSize;
  // Four strokes towards the point, or a turn about it.
  const drawn =
    channel === 'blur-towards'
      ? `M${x - r} ${y - r}l5 5M${x + r} ${y - r}l-5 5M${x - r} ${y + r}l5 -5M${x + r} ${y + r}l-5 -5`
      : `M${x - r} ${y}a${r} ${r} 0 0 1 ${r} ${-r}M${x + r} ${y}a${r} ${r} 0 0 1 ${-r} ${r}`;
  return (
    <g cursor="grab" aria-label={`Centre of ${channelWords[channel].name.toLowerCase()}`} {...held(channel)}>
      <title>{`${channelWords[channel].name}: drag the point elsewhere`}</title>
      <circle cx={x} cy={y} r={r + 4} fill="#000" fillOpacity={0.35} />
      <path d={drawn} fill="none" stroke="#fff" strokeWidth={1.8} />
      <circle cx={x} cy={y} r={2} fill="#fff" />
    </g>
  );
}

/** Four arrowheads about a place, from so many px of it to so many. */
function fourWays([x, y]: Place, from: number, to: number): string {
  return [
    [1, 0],
    [0, 1],
    [-1, 0],
    [0, -1],
  ]
    .map(([dx, dy]) => {
      const base = [x + dx * from, y + dy * from];
      const side = (to - from) * 0.7;
      return `M${x + dx * to} ${y + dy * to}L${base[0] - dy * side} ${base[1] + dx * side}L${base[0] + dy * side} ${base[1] - dx * side}Z`;
    })
    .join('');
}

export function Middle({ laid: { middle }, held }: PartProps) {
  return (
    <g cursor="move" aria-label="Middle" {...held('place')}>
      <title>Place: drag it elsewhere</title>
      <circle cx={middle[0]} cy={middle[1]} r={14} fill="#000" fillOpacity={0.3} />
      <path d={fourWays(middle, 5, 12)} fill="#fff" stroke="#000" strokeOpacity={0.5} strokeWidth={0.8} />
    </g>
  );
}
