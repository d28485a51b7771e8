import { childrenOf, type Joint, restPositions } from './motion.ts';
import { nameParts, type Side } from './joint-names.ts';
import { CENTRE_ROLES, type CentreRole, FIGURE_ROLES, type Role, type Roles, type SidedRole } from './role.ts';
import { rolesByShape, type ShapeRoles } from './roles-by-shape.ts';
import type { Vec3 } from './vector.ts';

/**
 * Spellings of the trade and of anatomy, best first; words are compared without case, separators and digits. A name that fits a
 * role's earlier spelling wins over one that fits a later spelling.
 */
const CENTRE_SPELLINGS: Record<CentreRole | 'master' | 'camera', readonly string[]> = {
  hips: ['hips', 'hip', 'pelvis', 'cog', 'root', 'body'],
  spine: ['spine', 'lowerspine', 'lowerback', 'abdomen', 'torso', 'waist', 'lumbar', 'back'],
  chest: ['chest', 'upperchest', 'thorax', 'ribcage', 'upperspine', 'upperback', 'upperbody'],
  neck: ['neck', 'lowerneck', 'upperneck'],
  head: ['head', 'skull'],
  master: ['master', 'world', 'global', 'main', 'masterctrl', 'reference', 'root', 'placement'],
  camera: ['camera', 'cam', 'rendercam', 'shotcam'],
};

const SIDED_SPELLINGS: Record<SidedRole, readonly string[]> = {
  clavicle: ['clavicle', 'collar', 'collarbone', 'scapula', 'shoulder', 'shldr'],
  upperArm: ['upperarm', 'uparm', 'armupper', 'humerus', 'arm', 'bicep', 'shldr', 'shoulder'],
  foreArm: ['forearm', 'lowerarm', 'lowarm', 'armlower', 'elbow', 'radius', 'ulna'],
  hand: ['hand', 'wrist', 'palm'],
  thigh: ['thigh', 'upleg', 'upperleg', 'legupper', 'femur', 'hip'],
  shin: ['shin', 'calf', 'lowerleg', 'lowleg', 'leglower', 'tibia', 'knee', 'leg'],
  foot: ['foot', 'ankle', 'feet'],
  toe: ['toe', 'toebase', 'ball', 'toes', 'forefoot'],
};

/** What a guess found, and what in it looks wrong. */
export interface GuessedRoles {
  readonly roles: Roles;
  readonly warnings: readonly string[];
  /** It stands on what would be its hands. */
  readonly fourLegs: boolean;
}

/**
 * Guesses which joint plays which role, from its name, and checks the guess against the skeleton: limbs must follow one another
 * from parent to child. `corrections` (role → joint name, or null for “none”) win over every guess.
 */
export function guessRoles(
  joints: readonly Joint[],
  corrections: Readonly<Record<string, string | null>> = NO_CORRECTIONS,
): GuessedRoles {
  const known = guesses.get(joints);
  if (known?.corrections === corrections) return known.guess;
  const guess = workOut(joints, corrections);
  guesses.set(joints, { corrections, guess });
  return guess;
}

const NO_CORRECTIONS = Object.freeze({});
/** The last guess for a skeleton: a motion that is made from another keeps its joints. */
const guesses = new WeakMap<
  readonly Joint[],
  { readonly corrections: Readonly<Record<string, string | null>>; readonly guess: GuessedRoles }
>();

function workOut(joints: readonly Joint[], corrections: Readonly<Record<string, string | null>>): GuessedRoles {
  const roles: Roles = {};
  const warnings: string[] = [];
  const parts = nameParts(joints.map((joint) => joint.name));
  const score = (j: number, spellings: readonly string[]): number => {
    const at = spellings.indexOf(parts[j]!.word);
    return at < 0 ? Infinity : at;
  };
  const best = (candidates: readonly number[], spellings: readonly string[]): number | undefined => {
    let found: number | undefined;
    for (const j of candidates) {
      const s = score(j, spellings);
      if (s < Infinity && (found === undefined || s < score(found, spellings))) found = j;
    }
    return found;
  };
  const all = joints.map((_, j) => j);
  const centre = all.filter((j) => parts[j]!.side === undefined);

  for (const side of ['L', 'R'] as const) {
    const own = all.filter((j) => parts[j]!.side === side);
    for (const limb of [LEG, ARM]) assignLimb(joints, own, limb, side, roles, score);
  }
  const named = best(centre, CENTRE_SPELLINGS.hips);
  roles.hips = hipsOf(joints, roles, named, (j) => parts[j]!.word);
  if (named === undefined && roles.hips !== undefined && !('hips' in corrections))
    warnings.push(
      `no name says which joint is hips: “${joints[roles.hips]!.name}” was taken, which the legs hang from`,
    );
  roles.head = best(centre, CENTRE_SPELLINGS.head);
  roles.neck = best(centre, CENTRE_SPELLINGS.neck);
  roles.camera = best(centre, CENTRE_SPELLINGS.camera);
  assignSpine(joints, centre, roles, best);
  const master = best(centre, CENTRE_SPELLINGS.master);
  if (master !== undefined && master !== roles.hips) roles.master = master;

  // Where every role was given there is nothing to guess.
  const given = FIGURE_ROLES.every((role) => role in corrections);
  const shape = given ? undefined : rolesByShape(joints);
  if (shape) fillFromShape(roles, shape, warnings);

  for (const [role, name] of Object.entries(corrections)) {
    const index = name === null ? -1 : joints.findIndex((joint) => joint.name === name);
    if (name !== null && index < 0) warnings.push(`role ${role}: there is no joint called “${name}”`);
    else if (index < 0) delete roles[role as Role];
    else roles[role as Role] = index;
  }
  for (const role of Object.keys(roles) as Role[]) if (roles[role] === undefined) delete roles[role];
  assignChains(joints, roles);
  return { roles, warnings, fourLegs: shape?.fourLegs ?? false };
}

const LIMBS: readonly (readonly [what: string, needed: readonly SidedRole[], all: readonly SidedRole[]])[] = [
  ['legs', ['thigh', 'shin', 'foot'], ['thigh', 'shin', 'foot', 'toe']],
  ['arms', ['upperArm', 'foreArm', 'hand'], ['clavicle', 'upperArm', 'foreArm', 'hand']],
];

/** Where names leave a limb, the hips or the head unknown, takes what the figure's shape says, and warns of it. */
function fillFromShape(roles: Roles, shape: ShapeRoles, warnings: string[]): void {
  const told: string[] = [];
  for (const [what, needed, all] of LIMBS) {
    const missing = needed.some((role) => roles[`${role}.L`] === undefined || roles[`${role}.R`] === undefined);
    const known = needed.every((role) => shape.roles[`${role}.L`] !== undefined);
    // One side that names tell is not put in doubt: a shape has no say in which is which.
    const named = needed.some((role) => roles[`${role}.L`] !== undefined || roles[`${role}.R`] !== undefined);
    const half = named && needed.every((role) => roles[`${role}.L`] !== undefined || roles[`${role}.R`] !== undefined);
    if (!missing || !known || half) continue;
    for (const role of all)
      for (const side of ['L', 'R'] as const) {
        delete roles[`${role}.${side}`];
        const joint = shape.roles[`${role}.${side}`];
        if (joint !== undefined) roles[`${role}.${side}`] = joint;
      }
    told.push(what);
  }
  if (roles.hips === undefined && shape.roles.hips !== undefined) told.push('hips');
  if (roles.head === undefined && shape.roles.head !== undefined) told.push('head');
  const taken = new Set(Object.values(roles).filter((joint) => joint !== undefined));
  for (const role of CENTRE_ROLES) {
    const joint = shape.roles[role];
    if (roles[role] === undefined && joint !== undefined && !taken.has(joint)) roles[role] = joint;
  }
  if (told.length > 0)
    warnings.push(
      `the names do not say which joints are ${told.join(', ')}: told by the figure’s shape; check the roles`,
    );
}

const LEG: readonly SidedRole[] = ['thigh', 'shin', 'foot', 'toe'];
const ARM: readonly SidedRole[] = ['clavicle', 'upperArm', 'foreArm', 'hand'];

/**
 * Fills one limb from its named joints. Among all ways to give each role a joint whose name fits and that hangs below the one
 * before, the one with most roles filled, then the best spellings, is taken: so “Shoulder” is the upper arm where an elbow follows
 * at once, and the collar bone where an upper arm comes between.
 */
function assignLimb(
  joints: readonly Joint[],
  own: readonly number[],
  limb: readonly SidedRole[],
  side: Side,
  roles: Roles,
  score: (joint: number, spellings: readonly string[]) => number,
): void {
  type Choice = { picks: (number | undefined)[]; filled: number; cost: number };
  let best: Choice = { picks: [], filled: 0, cost: 0 };
  // A hand or foot outranks an optional clavicle or toe, so that a short limb is not read shifted by one.
  const worth = (role: SidedRole): number => (role === 'clavicle' || role === 'toe' ? 0.9 : 1);
  const extend = (at: number, last: number | undefined, choice: Choice): void => {
    if (at === limb.length) {
      const better =
        choice.filled > best.filled + 1e-9 || (Math.abs(choice.filled - best.filled) < 1e-9 && choice.cost < best.cost);
      if (better) best = choice;
      return;
    }
    const role = limb[at]!;
    let candidates = own
      .map((j) => ({ j, cost: score(j, SIDED_SPELLINGS[role]) }))
      .filter(({ j, cost }) => cost < Infinity && (last === undefined || isAncestor(joints, last, j)));
    candidates = candidates.sort((a, b) => a.cost - b.cost || a.j - b.j).slice(0, 3);
    for (const { j, cost } of candidates) {
      extend(at + 1, j, {
        picks: [...choice.picks, j],
        filled: choice.filled + worth(role),
        cost: choice.cost + cost + 0.01 * depth(joints, j),
      });
    }
    extend(at + 1, last, { ...choice, picks: [...choice.picks, undefined] });
  };
  extend(0, undefined, { picks: [], filled: 0, cost: 0 });
  best.picks.forEach((joint, at) => {
    if (joint !== undefined) roles[`${limb[at]!}.${side}`] = joint;
  });
}

/** Names of hips that a joint above them may have as well. */
const LOOSE_HIPS: readonly string[] = ['cog', 'root', 'body'];

/**
 * The hips: the joint of that name; where none has it, or only one far above, the joint that both legs hang from, whatever it is called.
 * @param named the joint whose name fits best
 */
function hipsOf(
  joints: readonly Joint[],
  roles: Roles,
  named: number | undefined,
  wordOf: (joint: number) => string,
): number | undefined {
  const [left, right] = (['L', 'R'] as const).map((side) => roles[`thigh.${side}`] ?? roles[`shin.${side}`]);
  if (left === undefined || right === undefined) return named;
  const above = ancestors(joints, right);
  const meet = ancestors(joints, left).find((joint) => above.includes(joint));
  if (meet === undefined || named === undefined) return named ?? meet;
  return LOOSE_HIPS.includes(wordOf(named)) && isAncestor(joints, named, meet) ? meet : named;
}

/** Spine is the first named joint above the hips, chest the last below the neck or where the arms hang. */
function assignSpine(
  joints: readonly Joint[],
  centre: readonly number[],
  roles: Roles,
  best: (candidates: readonly number[], spellings: readonly string[]) => number | undefined,
): void {
  const hips = roles.hips;
  const inTrunk = centre.filter(
    (j) => j !== hips && j !== roles.neck && j !== roles.head && (hips === undefined || isAncestor(joints, hips, j)),
  );
  roles.spine = best(inTrunk, CENTRE_SPELLINGS.spine);
  roles.chest = best(inTrunk, CENTRE_SPELLINGS.chest);
  if (roles.chest === undefined) {
    const top = roles.neck ?? roles.head ?? roles['upperArm.L'] ?? roles['upperArm.R'];
    const above =
      top === undefined ? [] : ancestors(joints, top).filter((j) => inTrunk.includes(j) && j !== roles.spine);
    roles.chest = above[0];
  }
  if (roles.spine === undefined) {
    roles.spine = inTrunk.find(
      (j) => j !== roles.chest && roles.chest !== undefined && isAncestor(joints, j, roles.chest),
    );
  }
}

/** Names every run of two or more joints that hangs off the figure and has no role of its own: straps, tails, ropes. */
function assignChains(joints: readonly Joint[], roles: Roles): void {
  const taken = new Set(Object.values(roles));
  const children = childrenOf(joints);
  const handsAndHead = [roles['hand.L'], roles['hand.R'], roles.head, roles['foot.L'], roles['foot.R']];
  joints.forEach((joint, j) => {
    if (taken.has(j) || joint.parent < 0 || !taken.has(joint.parent)) return;
    // Fingers, toes, eyes and hair roots are part of what they sit on.
    if (handsAndHead.includes(joint.parent)) return;
    let tail = j;
    let count = 1;
    while (children[tail]!.length === 1 && !taken.has(children[tail]![0])) {
      tail = children[tail]![0]!;
      count++;
    }
    const carriesFigure = Object.values(roles).some((other) => other !== undefined && isAncestor(joints, j, other));
    if (count >= 2 && !carriesFigure) roles[`chain:${joint.name}`] = j;
  });
}

/** The joints of a chain role, from its first joint to its tip. */
export function chainJoints(joints: readonly Joint[], first: number): number[] {
  const children = childrenOf(joints);
  const chain = [first];
  while (children[chain[chain.length - 1]!]!.length === 1) chain.push(children[chain[chain.length - 1]!]![0]!);
  return chain;
}

/** Warnings where a “left” joint lies on the right at rest, or the other way round. */
export function sideWarnings(joints: readonly Joint[], roles: Roles, left: Vec3): string[] {
  const rest = restPositions(joints);
  const across = (j: number): number =>
    rest[3 * j]! * left[0] + rest[3 * j + 1]! * left[1] + rest[3 * j + 2]! * left[2];
  const warnings: string[] = [];
  for (const role of ['thigh', 'upperArm', 'foot', 'hand'] as const) {
    const l = roles[`${role}.L`];
    const r = roles[`${role}.R`];
    if (l !== undefined && r !== undefined && across(l) < across(r)) {
      warnings.push(`“${joints[l]!.name}” is called left and lies on the right of “${joints[r]!.name}” at rest`);
    }
  }
  return warnings;
}

/** Parent, grandparent … root of a joint. */
export function ancestors(joints: readonly Joint[], joint: number): number[] {
  const list: number[] = [];
  for (let j = joints[joint]!.parent; j >= 0; j = joints[j]!.parent) list.push(j);
  return list;
}

export function isAncestor(joints: readonly Joint[], above: number, below: number): boolean {
  for (let j = joints[below]!.parent; j >= 0; j = joints[j]!.parent) if (j === above) return true;
  return false;
}

const depth = (joints: readonly Joint[], joint: number): number => ancestors(joints, joint).length;
