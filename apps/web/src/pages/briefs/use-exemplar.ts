import { useMemo } from 'react';
import type { BriefContent } from '@ypsigraph/contract/briefs';
import { type MeasuringBrief, shotOptions } from '@ypsigraph/contract/shot-options';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { measureShot } from '@ypsigraph/core/measure/registry';
import type { Reading } from '@ypsigraph/core/measure/reading';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';

export interface MadeExemplar {
  readonly shot: PreparedShot;
  readonly readings: readonly Reading[];
}

type Asked = Pick<BriefContent, 'exemplar' | 'loop' | 'firstFrame'> & Omit<MeasuringBrief, 'groundHeight'>;

const NONE: Readonly<Record<string, number>> = {};

/**
 * A brief's exemplar as a shot of its own, measured as every shot of the brief is; or why it can't be made as it is set.
 * @param faults what is wrong with it, each with its size
 */
export function useExemplar(
  { exemplar, kind, alsoKinds, fps, ground, still, groups, plan, loop, firstFrame }: Asked,
  faults: Readonly<Record<string, number>> = NONE,
): MadeExemplar | string | undefined {
  // The ground of a school's files is no ground of the exemplar's.
  const measuring = { kind, alsoKinds, fps, ground, groundHeight: null, still, groups, plan, loop, firstFrame };
  const asked = JSON.stringify({ exemplar, measuring, faults });
  return useMemo(() => make(JSON.parse(asked) as Parameters<typeof make>[0]), [asked]);
}

function make({
  exemplar,
  measuring,
  faults,
}: {
  exemplar: BriefContent['exemplar'];
  measuring: MeasuringBrief & Pick<BriefContent, 'loop' | 'firstFrame'>;
  faults: Readonly<Record<string, number>>;
}): MadeExemplar | string | undefined {
  const own = exemplar && Object.hasOwn(EXEMPLARS, exemplar.name) ? EXEMPLARS[exemplar.name] : undefined;
  if (!exemplar || !own) return undefined;
  try {
    const shot = prepareShot(own.make(exemplar.set, faults), shotOptions(measuring, { ...measuring, roles: {} }));
    return { shot, readings: measureShot(shot).readings };
  } catch (error) {
    if (error instanceof RangeError) return error.message;
    throw error;
  }
}
