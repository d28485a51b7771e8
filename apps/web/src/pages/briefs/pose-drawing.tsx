import { type KeyboardEvent, type PointerEvent, useRef } from 'react';
import { partName } from '@ypsigraph/core/say/part-names';
import { inkOf, PartStroke, type Place, type PartLine, type Pose, poseLines } from './own-pose-figure.tsx';

const [WIDTH, HEIGHT] = [260, 280];
const HIPS: Place = [WIDTH / 2, 138];
const LEG = 108;
const DEGREES = 180 / Math.PI;

interface Props {
  readonly pose: Pose;
  readonly onChange: (pose: Pose) => void;
}

/**
 * A pose drawn from the side: each part is pulled by its end, or turned by a degree with the arrows (ten with Shift). What does not matter to the
 * pose is left out with Delete.
 */
export function PoseDrawing({ pose, onChange }: Props) {
  const paper = useRef<SVGSVGElement>(null);
  const lines = poseLines(pose, HIPS, LEG);
  const point = (part: string, degrees: number): void => {
    const angle = degrees / DEGREES;
    onChange({
      ...pose,
      directions: { ...pose.directions, [part]: [Math.cos(angle), 0, Math.sin(angle)].map(toFour) as Way },
    });
  };
  const leaveOut = (part: string): void => {
    const { [part]: _, ...directions } = pose.directions;
    // A pose of nothing is none.
    if (Object.keys(directions).length > 0) onChange({ ...pose, directions });
  };
  const pull = ({ part, from }: PartLine, event: PointerEvent): void => {
    const box = paper.current!.getBoundingClientRect();
    const [x, y] = [
      ((event.clientX - box.left) * WIDTH) / box.width - from[0],
      ((event.clientY - box.top) * HEIGHT) / box.height - from[1],
    ];
    if (Math.hypot(x, y) > 4) point(part, DEGREES * Math.atan2(-y, x));
  };
  const turn = (line: PartLine, event: KeyboardEvent): void => {
    if (event.key === 'Delete' || event.key === 'Backspace') leaveOut(line.part);
    else {
      const sense = { ArrowUp: 1, ArrowLeft: 1, ArrowDown: -1, ArrowRight: -1 }[event.key];
      if (sense === undefined) return;
      point(line.part, angleOf(line) + sense * (event.shiftKey ? 10 : 1));
    }
    event.preventDefault();
  };
  return (
    <figure className="w-full">
      <svg
        ref={paper}
        width={WIDTH}
        height={HEIGHT}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="touch-none rounded-md border border-edge bg-sheet"
        role="group"
        aria-label="The pose, from its left side"
      >
        <line x1={0} x2={WIDTH} y1={HIPS[1] + LEG} y2={HIPS[1] + LEG} stroke="var(--edge-strong)" />
        {lines.map((line) => (
          <PartStroke key={line.part} line={line} width={3} />
        ))}
        {lines.map((line) => (
          <circle
            key={line.part}
            cx={line.to[0]}
            cy={line.to[1]}
            r={5.5}
            fill="var(--sheet)"
            stroke={inkOf(line.part)}
            strokeWidth={1.6}
            className="cursor-grab"
            tabIndex={0}
            role="slider"
            aria-label={partName(line.part)}
            aria-valuemin={-180}
            aria-valuemax={180}
            aria-valuenow={Math.round(angleOf(line))}
            aria-valuetext={line.leftOut ? 'left out' : `${Math.round(angleOf(line))}° up from straight ahead`}
            onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
            onPointerMove={(event) => event.currentTarget.hasPointerCapture(event.pointerId) && pull(line, event)}
            onKeyDown={(event) => turn(line, event)}
          >
            <title>{partName(line.part)}</title>
          </circle>
        ))}
      </svg>
      <figcaption className="mt-1 max-w-prose text-xs text-graphite">
        It faces right. Pull each part by its end, or turn it with the arrows. Delete leaves a part out that may be
        anywhere.
      </figcaption>
    </figure>
  );
}

type Way = Pose['directions'][string];
const toFour = (value: number): number => Math.round(value * 1e4) / 1e4 + 0;

/** Degrees up from straight ahead at which a part points, as it is seen. */
const angleOf = ({ from, to }: PartLine): number => DEGREES * Math.atan2(from[1] - to[1], to[0] - from[0]);
