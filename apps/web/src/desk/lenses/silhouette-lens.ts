import { Contrast } from 'lucide-react';
import type { Lens } from './lens.ts';

/** The figure in ink alone, to judge the pose by its outline; of a drawing everything that its outline encloses. The figure itself is drawn so; nothing is laid over it. */
export const SILHOUETTE: Lens<true> = {
  id: 'silhouette',
  name: 'Silhouette only',
  key: 'x',
  icon: Contrast,
  needs: 'frames',
  prepare: ({ figure, pictures, flat }) => ((figure && !flat) || pictures ? true : undefined),
  draw: () => undefined,
  legend: () => [],
};
