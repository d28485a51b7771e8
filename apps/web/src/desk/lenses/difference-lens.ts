import { Diff } from 'lucide-react';
import type { Lens } from './lens.ts';

/** Only what is other than in the frame before, dark on the sheet: what moved at all, and what was traced anew. */
export const DIFFERENCE: Lens<true> = {
  id: 'difference',
  name: 'Difference from the previous frame',
  key: '/',
  icon: Diff,
  needs: 'frames',
  prepare: ({ pictures }) => (pictures ? true : undefined),
  draw({ scene, source, sample }) {
    scene.difference?.(source.sampleAt(source.first + sample - 1));
  },
  legend: () => [{ text: 'dark: different from the previous frame' }],
};
