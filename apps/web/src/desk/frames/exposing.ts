import { exposedLabel } from '../cures/drawings-store.ts';
import { useDesk } from '../desk-store.ts';
import type { FrameSource } from './frame-source.ts';

const STRIDES = { ones: 1, twos: 2, threes: 3 } as const;

/** The label whose pose stands at a label: its own, or on twos, threes or key poses the last one that is shown. */
export function shownLabel(source: FrameSource, label: number, exposure = useDesk.getState().exposure): number {
  const exposed = exposedLabel(source, label);
  if (exposed !== undefined) return exposed;
  if (exposure === 'poses') {
    const poses = source.keyPoses();
    return (poses.findLast((pose) => pose.label <= label) ?? poses[0])?.label ?? label;
  }
  const stride = STRIDES[exposure];
  return source.first + Math.floor((label - source.first) / stride) * stride;
}
