import { useMemo } from 'react';
import type { BriefContent } from '@ypsigraph/contract/briefs';
import { shotOptions } from '@ypsigraph/contract/shot-options';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { measureShot } from '@ypsigraph/core/measure/registry';
import type { Reading } from '@ypsigraph/core/measure/reading';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';

export interface MadeExemplar {
  readonly shot: PreparedShot;
  readonly readings: readonly Reading[];
}

type Asked = Pick<BriefContent, 'exemplar' | 'kind' | 'fps' | 'ground' | 'still' | 'groups' | 'loop' | 'firstFrame'>;

const NONE: Readonly<Record<string, number>> = {};

/**
 * A brief's exemplar as a shot of its own, measured as every shot of the brief is; or why it can't be made as it is set.
 * @param faults what is wrong with it, each with its size
 */
export function useExemplar(
  brief: Asked,
  faults: Readonly<Record<string, number>> = NONE,
): MadeExemplar | string | undefined {
  const { exemplar, kind, fps, ground, loop, firstFrame } = brief;
  const still = JSON.stringify(brief.still);
  const groups = JSON.stringify(brief.groups);
  const set = JSON.stringify(exemplar?.set ?? {});
  const wrong = JSON.stringify(faults);
  const name = exemplar?.name;
  return useMemo(() => {
    const own = name !== undefined && Object.hasOwn(EXEMPLARS, name) ? EXEMPLARS[name] : undefined;
    if (!own) return undefined;
    try {
      const motion = own.make(JSON.parse(set) as Record<string, unknown>, JSON.parse(wrong) as Record<string, number>);
      const options = shotOptions(
        {
          kind,
          fps,
          ground,
          groundHeight: null,
          still: JSON.parse(still) as string[],
          groups: JSON.parse(groups) as string[],
        },
        { firstFrame, loop, roles: {} },
      );
      const shot = prepareShot(motion, options);
      return { shot, readings: measureShot(shot).readings };
    } catch (error) {
      if (error instanceof RangeError) return error.message;
      throw error;
    }
  }, [name, set, wrong, kind, fps, ground, still, groups, loop, firstFrame]);
}
