import { type Finding, judgeShot } from '../gauge/findings.ts';
import { type Gauge, type Verdict, verdicts } from '../gauge/gauge.ts';
import type { Reading, Unmade } from '../measure/reading.ts';
import { measureShot } from '../measure/registry.ts';
import type { PreparedShot, ShotOptions } from '../motion/prepared-shot.ts';
import type { Stage } from '../trade/stages.ts';
import { REMEDIES } from './remedies.ts';
import { makeRecipe, type Touched, touchedBy, type Treated } from './recipe.ts';
import type { Proposal, Recipe } from './remedy.ts';
import { solve, targetOf } from './solve.ts';

/** A shot that is to be put right, and what it is held against. */
export interface Patient {
  readonly shot: PreparedShot;
  /** What the shot was prepared with. */
  readonly options: ShotOptions;
  readonly gauges: readonly Gauge[];
  readonly stage: Stage;
}

/** What was measured of a shot, and what its gauges say. */
interface Judged {
  readonly readings: readonly Reading[];
  readonly unmade: readonly Unmade[];
  readonly findings: readonly Finding[];
  /** Every verdict that is not inside, by reading, part and number. */
  readonly outside: ReadonlyMap<string, Verdict>;
}

/** What a recipe did to a shot, and to all that is measured of it. */
export interface Cured {
  readonly recipe: Recipe;
  readonly treated: Treated;
  readonly touched: Touched | undefined;
  readonly before: readonly Reading[];
  readonly after: readonly Reading[];
  /** Findings that are there no more, findings that were not there, and those that are still there. */
  readonly gone: readonly Finding[];
  readonly fresh: readonly Finding[];
  readonly left: readonly Finding[];
  readonly notes: readonly string[];
}

const keyOf = ({ gauge, reading, part }: { gauge: Gauge; reading?: Reading; part?: string }): string =>
  [gauge.reading, reading?.part ?? part ?? '', gauge.of ?? '', gauge.link ?? '', gauge.over ?? ''].join(' ');

const judgedOf = new WeakMap<PreparedShot, Map<readonly Gauge[], Judged>>();

/** What is measured and judged of a shot; worked out once. */
export function judged({ shot, gauges, stage }: Omit<Patient, 'options'>): Judged {
  const known = judgedOf.get(shot) ?? new Map<readonly Gauge[], Judged>();
  judgedOf.set(shot, known);
  const own = known.get(gauges) ?? judgeAnew(shot, gauges, stage);
  known.set(gauges, own);
  return own;
}

function judgeAnew(shot: PreparedShot, gauges: readonly Gauge[], stage: Stage): Judged {
  const measured = measureShot(shot);
  const outside = new Map<string, Verdict>();
  for (const verdict of verdicts(gauges, measured, stage))
    if (verdict.judgement === 'outside' || verdict.judgement === 'near') outside.set(keyOf(verdict), verdict);
  return { ...measured, findings: judgeShot(gauges, measured, stage).findings, outside };
}

/**
 * Makes a recipe on a shot and says what it did to everything that is measured of it.
 * @throws RemedyError
 */
export function cureBy(patient: Patient, recipe: Recipe): Cured {
  return curedOf(patient, recipe, makeRecipe(patient.shot, patient.options, recipe));
}

function curedOf(patient: Patient, recipe: Recipe, treated: Treated): Cured {
  const before = judged(patient);
  const after = judged({ ...patient, shot: treated.shot });
  return {
    recipe,
    treated,
    touched: touchedBy(patient.shot, treated),
    before: before.readings,
    after: after.readings,
    gone: before.findings.filter((finding) => !after.outside.has(keyOf(finding))),
    fresh: after.findings.filter((finding) => !before.outside.has(keyOf(finding))),
    left: after.findings.filter((finding) => before.outside.has(keyOf(finding))),
    notes: treated.notes,
  };
}

/** What can be done about a finding: whether it is gone then, and whether it breaks anything. */
export interface Cure extends Cured {
  readonly isGone: boolean;
  readonly breaks: readonly Finding[];
}

/** Proposals for a finding, of every remedy that mends its reading, the likeliest first. */
export function proposalsFor({ shot }: Pick<Patient, 'shot'>, finding: Finding): readonly Proposal[] {
  const asked = { shot, finding, target: targetOf(finding) };
  const id = finding.reading.id as keyof (typeof REMEDIES)[number]['mends'];
  return REMEDIES.flatMap(({ mends }) => mends[id]?.(asked) ?? []).filter(({ steps }) => steps.length > 0);
}

/**
 * What is proposed for a finding, solved: of several ways the first that takes it away and breaks nothing, else the one that breaks least.
 * @returns undefined where no remedy makes anything of it
 */
export function cureFor(patient: Patient, finding: Finding): Cure | undefined {
  let best: Cure | undefined;
  for (const proposal of proposalsFor(patient, finding)) {
    const solved = solve(patient.shot, patient.options, finding, proposal);
    if (!solved) continue;
    const own = curedOf(patient, solved.recipe, solved.treated);
    const still = judged({ ...patient, shot: solved.treated.shot }).outside.get(keyOf(finding));
    const cure: Cure = {
      ...own,
      isGone: still === undefined,
      breaks: own.fresh.filter(({ judgement }) => judgement === 'outside'),
    };
    if (!best || worth(cure) > worth(best)) best = cure;
    if (cure.isGone && cure.fresh.length === 0) break;
  }
  return best;
}

/** A cure that takes its finding away is worth more than one that does not; what it breaks, or brings near an edge, is taken off. */
const worth = ({ isGone, breaks, fresh, gone }: Cure): number =>
  (isGone ? 100 : 0) - 10 * breaks.length - (fresh.length - breaks.length) + 0.1 * gone.length;

/** Cures for every finding, heaviest first, as long as each takes its finding away and breaks nothing. */
export function cureAll(patient: Patient): Cured {
  let now: Patient = patient;
  const recipe: Recipe[] = [];
  const tried = new Set<string>();
  for (;;) {
    const next = judged(now).findings.find((finding) => !tried.has(keyOf(finding)));
    if (!next) break;
    tried.add(keyOf(next));
    const cure = cureFor(now, next);
    if (!cure || !cure.isGone || cure.breaks.length > 0) continue;
    recipe.push(cure.recipe);
    now = { ...now, shot: cure.treated.shot, options: cure.treated.options };
  }
  const steps = recipe.flat();
  return cureBy(patient, steps);
}
