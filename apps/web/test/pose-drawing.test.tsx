/** @jest-environment jsdom */
import { fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { atEase, OwnPoseFigure, type Pose, poseLines } from '../src/pages/briefs/own-pose-figure.tsx';
import { PoseDrawing } from '../src/pages/briefs/pose-drawing.tsx';

let pose: Pose;
const drawn = (next: Pose): void => void (pose = next);
beforeEach(() => drawn(atEase()));

function Drawing() {
  const [own, set] = useState<Pose>(atEase());
  return (
    <PoseDrawing
      pose={own}
      onChange={(next) => {
        set(next);
        drawn(next);
      }}
    />
  );
}

const part = (name: string) => screen.getByRole('slider', { name });
const degreesUp = (name: string): number => {
  const [forward, , up] = pose.directions[name]!;
  return (180 / Math.PI) * Math.atan2(up, forward);
};

test('a part turns by a degree with an arrow, by ten with Shift, and nothing else does', () => {
  render(<Drawing />);
  const before = pose;
  const from = degreesUp('upperArm.L');
  fireEvent.keyDown(part('the left upper arm'), { key: 'ArrowUp' });
  expect(degreesUp('upperArm.L')).toBeCloseTo(from + 1, 1);
  fireEvent.keyDown(part('the left upper arm'), { key: 'ArrowDown', shiftKey: true });
  expect(degreesUp('upperArm.L')).toBeCloseTo(from - 9, 1);
  expect({ ...pose.directions, 'upperArm.L': 0 }).toEqual({ ...before.directions, 'upperArm.L': 0 });
  expect(pose.drawn).toBe(true);
});

test('what does not matter is left out, and comes back where it is turned; the last part stays', () => {
  render(<Drawing />);
  fireEvent.keyDown(part('the head'), { key: 'Delete' });
  expect(pose.directions).not.toHaveProperty('head');
  expect(part('the head').getAttribute('aria-valuetext')).toBe('left out');
  fireEvent.keyDown(part('the head'), { key: 'ArrowLeft' });
  expect(degreesUp('head')).toBeCloseTo(91, 1);
  for (const slider of screen.getAllByRole('slider')) fireEvent.keyDown(slider, { key: 'Delete' });
  expect(Object.keys(pose.directions)).toHaveLength(1);
});

test('a limb hangs from the end of what carries it, wherever that points', () => {
  const raised: Pose = {
    directions: { ...atEase().directions, trunk: [1, 0, 0], 'upperArm.R': [0, 0, 1] },
    drawn: true,
  };
  const lines = new Map(poseLines(raised, [0, 0], 100).map((line) => [line.part, line]));
  expect(lines.get('trunk')!.to).toEqual([60, 0]);
  expect(lines.get('upperArm.R')).toMatchObject({ from: [60, 0], to: [60, -34] });
  expect(lines.get('foreArm.R')!.from).toEqual([60, -34]);
  // Of what has no body there is nothing to draw.
  expect(poseLines({ directions: { 'flag 2': [1, 0, 0] } }, [0, 0], 100)).toEqual([]);
  expect(render(<OwnPoseFigure pose={{ directions: { 'flag 2': [1, 0, 0] } }} />).container.innerHTML).toBe('');
});
