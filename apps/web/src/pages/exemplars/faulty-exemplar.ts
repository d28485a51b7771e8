import { useDeferredValue } from 'react';
import useSWRImmutable from 'swr/immutable';
import { type BriefContent, EMPTY_BRIEF } from '@ypsigraph/contract/briefs';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { readBvh } from '@ypsigraph/core/formats/bvh/read-bvh';
import { writeBvh } from '@ypsigraph/core/formats/bvh/write-bvh';
import { defaultGauges } from '@ypsigraph/core/gauge/gauges';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import { judged } from '@ypsigraph/core/remedy/cure';
import { cureWorker } from '../../workers/cure.ts';
import { type MadeExemplar, useExemplar } from '../briefs/use-exemplar.ts';

/** A fault and its size, by the fault's name. */
export type Faults = Readonly<Record<string, number>>;

interface FaultyExemplar {
  /** A brief of which it is the exemplar. */
  readonly blank: BriefContent;
  /** Undefined where there is no such motion; why, where it can't be made so. */
  readonly made: MadeExemplar | string | undefined;
  /** With what is proposed for its heaviest finding; until then, or where there is none, what is said in its place. */
  readonly cured: PreparedShot | string | undefined;
}

/**
 * An exemplar with faults dialled in.
 * @param set its dials
 * @param cures whether one way to put it right is wanted beside it
 */
export function useFaultyExemplar(
  name: string,
  set: Readonly<Record<string, string | number>>,
  faults: Faults,
  cures: boolean,
): FaultyExemplar {
  const { kind, defaults } = EXEMPLARS[name]!;
  // A motion that is made as a loop is one, also where a fault hides it.
  const loop = (set.loop ?? defaults.loop ?? 'auto') as BriefContent['loop'];
  const blank: BriefContent = { ...EMPTY_BRIEF, title: '', kind, loop, exemplar: { name, set } };
  const made = useExemplar(useDeferredValue(blank), useDeferredValue(faults));
  const cured = useCured(cures && typeof made === 'object' ? made.shot : undefined, loop);
  return { blank, made, cured };
}

/** A motion with what is proposed for its heaviest finding, worked out off the page’s thread. */
function useCured(shot: PreparedShot | undefined, loop: BriefContent['loop']): PreparedShot | string | undefined {
  const { data, error } = useSWRImmutable<
    PreparedShot | string | undefined,
    Error,
    readonly [string, PreparedShot, BriefContent['loop']] | null
  >(shot ? ['cured', shot, loop] : null, async ([, own, habit]) => {
    const bytes = new TextEncoder().encode(writeBvh(own.motion));
    const options = { kind: own.kind, loop: habit };
    const patient = { shot: own, options, gauges: defaultGauges(own.kind, own.fps), stage: 'polish' as const };
    const [finding] = judged(patient).findings;
    if (!finding) return 'Nothing is found in it, so nothing is put right.';
    const cure = await cureWorker().forFile({ ...patient, bytes }, finding.reading.id, finding.reading.part);
    return 'why' in cure ? cure.why : prepareShot(readBvh(new TextEncoder().encode(cure.text)).motion, options);
  });
  if (!shot) return undefined;
  return error ? error.message : (data ?? 'Looking for what puts it right …');
}
