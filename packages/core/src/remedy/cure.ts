import { type Finding, judgeShot } from '../gauge/findings.ts';
import { type Gauge, type Verdict, verdicts } from '../gauge/gauge.ts';
import type { Reading, Unmade } from '../measure/reading.ts';
import { isOfKeys } from '../measure/keys/sparse-keys.ts';
import { measureShot } from '../measure/registry.ts';
import type { PreparedShot, ShotOptions } from '../motion/prepared-shot.ts';
import type { Stage } from '../trade/stages.ts';
import { REMEDIES } from './remedies.ts';
import { makeRecipe, type Touched, touchedBy, type Treated } from './recipe.ts';
import { spanOf } from './proposals.ts';
import type { Proposal, Recipe, Remedy } from './remedy.ts';
import { solve, type Solved, targetOf } from './solve.ts';

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
  const measured = { ...measureShot(shot), fps: shot.played.motion.fps };
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
    // What a remedy has made has no keys of its own: what was found of them is not asked any more, and is not gone.
    gone: before.findings.filter((finding) => !isOfKeys(finding.reading) && !after.outside.has(keyOf(finding))),
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
export function proposalsFor(patient: Omit<Patient, 'options'>, finding: Finding): readonly Proposal[] {
  const { gauge, reading } = finding;
  const all = verdicts([gauge], judged(patient), patient.stage)
    .filter(
      (verdict) =>
        (verdict.judgement === 'outside' || verdict.judgement === 'near') && verdict.reading?.part === reading.part,
    )
    .flatMap((verdict) => verdict.reading ?? []);
  const first = (own: Reading): number => spanOf(own)?.from ?? 0;
  const asked = {
    shot: patient.shot,
    finding,
    target: targetOf(finding),
    all: (all.length > 0 ? all : [reading]).sort((a, b) => first(b) - first(a)),
  };
  const id = reading.id as keyof Remedy['mends'];
  return REMEDIES.flatMap(({ mends }) => mends[id]?.(asked) ?? []).filter(({ steps }) => steps.length > 0);
}

/** Of so many ways that take a finding away what they break is mended. */
const MENDED = 3;

/**
 * What is proposed for a finding, solved: of several ways the first that takes it and what follows from it away and breaks nothing, else the one that breaks
 * least. What a cure breaks is mended in its turn, once.
 * @returns undefined where no remedy makes anything of it
 */
export function cureFor(patient: Patient, finding: Finding, mendsOn = true): Cure | undefined {
  let best: Cure | undefined;
  const gone: Cure[] = [];
  const keep = (cure: Cure | undefined): boolean => {
    if (cure?.isGone) gone.push(cure);
    if (cure && (!best || worth(cure, finding) > worth(best, finding))) best = cure;
    return best !== undefined && isWhole(best, finding);
  };
  const proposals = proposalsFor(patient, finding);
  const targets = [targetOf(finding), middleOf(finding), justInside(finding)];
  for (const target of targets) {
    for (const proposal of proposals) {
      if (target !== targets[0] && (!proposal.seek || target === undefined)) continue;
      const solved = solve(patient.shot, patient.options, finding, proposal, target);
      if (solved && keep(cureOf(patient, finding, solved))) return best;
    }
  }
  if (mendsOn && best?.isGone && best.breaks.length > 0)
    for (const cure of gone.sort((a, b) => a.breaks.length - b.breaks.length).slice(0, MENDED))
      if (keep(mended(patient, finding, cure))) break;
  return best;
}

const cureOf = (patient: Patient, finding: Finding, { recipe, treated }: Solved): Cure => {
  const own = curedOf(patient, recipe, treated);
  return {
    ...own,
    isGone: !judged({ ...patient, shot: treated.shot }).outside.has(keyOf(finding)),
    breaks: own.fresh.filter(({ judgement }) => judgement === 'outside'),
  };
};

/** A cure with what it breaks mended behind it. */
function mended(patient: Patient, finding: Finding, cure: Cure): Cure | undefined {
  let recipe = cure.recipe;
  let treated = cure.treated;
  for (const broken of cure.breaks) {
    const next = cureFor({ ...patient, shot: treated.shot, options: treated.options }, broken, false);
    if (!next?.isGone) continue;
    recipe = [...recipe, ...next.recipe];
    treated = next.treated;
  }
  return recipe === cure.recipe
    ? undefined
    : cureOf(patient, finding, { recipe, treated: makeRecipe(patient.shot, patient.options, recipe) });
}

/** The middle of the band that a finding is outside of; undefined where it has none. */
function middleOf({ gauge: { band } }: Finding): number | undefined {
  const middle = band && (band[0] + band[1]) / 2;
  return middle !== undefined && Number.isFinite(middle) ? middle : undefined;
}

/** Just within the band, where more would break something else: a twelfth of its width from the end it is outside of. */
function justInside({ gauge: { band }, distance }: Finding): number | undefined {
  const width = band && band[1] - band[0];
  if (!band || !Number.isFinite(width) || width === 0) return undefined;
  return distance < 0 ? band[0] + width! / 12 : band[1] - width! / 12;
}

/** What followed from a finding, and is still outside without it. */
const follows = ({ left }: Cure, { also }: Finding): Finding[] =>
  left.filter(({ reading, judgement }) => judgement === 'outside' && also.includes(reading.id));

const isWhole = (cure: Cure, finding: Finding): boolean =>
  cure.isGone && cure.fresh.length === 0 && follows(cure, finding).length === 0;

/** A cure that takes its finding away is worth more than one that does not; what it breaks, or brings near an edge, is taken off. */
const worth = (cure: Cure, finding: Finding): number =>
  (cure.isGone ? 100 : 0) -
  10 * cure.breaks.length -
  5 * follows(cure, finding).length -
  (cure.fresh.length - cure.breaks.length) +
  0.1 * cure.gone.length;

/**
 * Cures for some findings, one after the other, each solved on what the one before made; a finding that another cure took away needs none.
 * What can't be cured is left.
 */
export function cureFindings(patient: Patient, findings: readonly Finding[]): Cured {
  const wanted = new Set(findings.map(keyOf));
  return cureWhile(
    patient,
    (finding) => wanted.has(keyOf(finding)),
    () => true,
  );
}

/** Cures for every finding, heaviest first, as long as each takes its finding away and breaks nothing. */
export const cureAll = (patient: Patient): Cured =>
  cureWhile(
    patient,
    () => true,
    ({ isGone, breaks }) => isGone && breaks.length === 0,
  );

function cureWhile(patient: Patient, wanted: (finding: Finding) => boolean, takes: (cure: Cure) => boolean): Cured {
  let now: Patient = patient;
  let steps: Recipe = [];
  const tried = new Set<string>();
  for (;;) {
    const next = judged(now).findings.find((finding) => wanted(finding) && !tried.has(keyOf(finding)));
    if (!next) return cureBy(patient, steps);
    tried.add(keyOf(next));
    const cure = cureFor(now, next);
    if (!cure || !takes(cure)) continue;
    steps = [...steps, ...cure.recipe];
    now = { ...now, shot: cure.treated.shot, options: cure.treated.options };
  }
}
