import { useMemo } from 'react';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import { useDesk } from '../desk-store.ts';
import { EXEMPLAR_STANDS, inPace } from '../lenses/reference-lens.ts';
import { preparedFor } from '../paper/overlay.ts';
import type { FrameSource } from './frame-source.ts';
import { MotionSource } from './motion-source.ts';

/** The exemplar of the exercise on the shot's own frame axis: at each label it stands as far into the exercise as the shot does. */
class Exemplar extends MotionSource {
  constructor(
    exemplar: PreparedShot,
    private readonly beside: FrameSource,
  ) {
    super(exemplar);
  }

  override sampleAt(label: number): number {
    return inPace(this.beside, this.measured, this.beside.sampleAt(label));
  }
}

/** The exemplar as a source of frames of its own, while its lens is on and it is to stand beside the shot. */
export function useExemplarBeside(source: FrameSource | undefined): FrameSource | undefined {
  const on = useDesk((desk) => EXEMPLAR_STANDS.of(desk) === 'beside' && desk.lenses.has('reference'));
  return useMemo(() => {
    if (!on || !source?.figure) return undefined;
    const exemplar = preparedFor(source, 'reference') as PreparedShot | undefined;
    return exemplar && new Exemplar(exemplar, source);
  }, [on, source]);
}
