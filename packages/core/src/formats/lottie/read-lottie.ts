import type { BlendShape, Joint, Motion } from '../../motion/motion.ts';
import type { KeyChannel } from '../../motion/keys.ts';
import type { PointTrack, PointTracks } from '../../motion/point-tracks.ts';
import { FIGURE_ROLES, type Role } from '../../motion/role.ts';
import { guessRoles } from '../../motion/roles.ts';
import { rolesByShape } from '../../motion/roles-by-shape.ts';
import { largestOf, median, smallestOf } from '../../signal/statistics.ts';
import { planarFigure } from '../../track/planar-figure.ts';
import { pointRoles } from '../../track/point-roles.ts';
import { FormatError, LIMITS } from '../format-error.ts';
import type { ReadMotion, ReadOptions } from '../format.ts';
import { toldApart } from '../told-apart.ts';
import { checkLottie } from './check-lottie.ts';
import { drawable, leftOut } from './left-out.ts';
import type { LottieJson } from './lottie-json.ts';
import { type PuppetLayer, puppetLayers } from './puppet-layers.ts';

/** Layers times frames that are worked out at most: each takes a transform. */
const MOST_POSES = 1_000_000;
/** Layers of one figure at most: as many as points of one table. */
const MOST_POINTS = 500;

/**
 * Reads a puppet of layers (Lottie Animation Community, *Lottie Specification 1.0*): its layers' anchors are points on a picture, placed exactly at
 * every frame, with the layers' own turns, scales and keys. They hang from one another as the layers do; names say which part of a body each is. Of
 * several figures (compositions that have hips) the one asked for is read, or the one with the most layers.
 *
 * @throws FormatError where it is damaged
 */
export function readLottie(bytes: Uint8Array, options: ReadOptions = {}): ReadMotion {
  return puppetOf(parsed(bytes), options);
}

/**
 * Reads one of the animations of an archive of puppets, the longest where none is asked for.
 *
 * @param texts the animations by name
 * @throws FormatError where there is none of that name, or it is damaged
 */
export function readLotties(texts: ReadonlyMap<string, Uint8Array>, options: ReadOptions = {}): ReadMotion {
  const all = [...texts]
    .map(([name, bytes]) => ({ name, json: parsed(bytes) }))
    .sort((a, b) => lasts(b.json) - lasts(a.json));
  const { animation } = options;
  const own =
    animation === undefined
      ? all[0]
      : (all.find(({ name }) => name === animation) ??
        (/^\d+$/.test(animation) ? all[Number(animation) - 1] : undefined));
  if (!own)
    throw new FormatError(`there is no animation “${animation}”: there are ${quoted(all.map(({ name }) => name))}`);
  const read = puppetOf(own.json, options);
  const { figures = [] } = read.motion.holds ?? {};
  return { ...read, motion: { ...read.motion, holds: { animations: all.map(({ name }) => name), figures } } };
}

const lasts = ({ ip, op, fr }: LottieJson): number => (op - ip) / fr;

const quoted = (names: readonly string[]): string => names.map((name) => `“${name}”`).join(', ');

function parsed(bytes: Uint8Array): LottieJson {
  if (bytes.length > LIMITS.bytes) throw new FormatError('the document is larger than 64 MB');
  let value: unknown;
  try {
    value = JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    throw new FormatError('the document is no JSON: it is damaged or cut');
  }
  return checkLottie(value);
}

function puppetOf(json: LottieJson, { figure, fps, usualFps, withShape }: ReadOptions): ReadMotion {
  const frames = Math.max(1, Math.ceil(json.op - json.ip - 1e-6));
  const all = boundedLayers(json, frames);
  const figures = figuresOf(all);
  const asked = figure === undefined ? figures[0] : figures.find(({ name }) => name === figure);
  if (!asked)
    throw new FormatError(`there is no figure “${figure}”: there are ${quoted(figures.map(({ name }) => name))}`);
  const kept = asked.layers;
  if (kept.length > MOST_POINTS)
    throw new FormatError(`${kept.length} layers move; at most ${MOST_POINTS} can be measured`);
  const names = toldApart(kept.map((k) => all[k]!.name));
  const indexOf = new Map(kept.map((k, point) => [k, point]));
  const hangs = kept.map((k) => nearestKept(all, k, indexOf));
  const tracks: PointTracks = {
    fps: fps ?? json.fr,
    frames,
    firstFrame: Math.round(json.ip),
    points: kept.map((k, point) => pointOf(all[k]!, names[point]!, json.h, hangs[point]!)),
  };
  const { roles, warnings } = rolesOf(tracks);
  const { motion, options, ground } = planarFigure(tracks, undefined, [], roles);
  const joint = names.map((name) => motion.joints.findIndex((own) => own.name === name));
  const keys = kept.flatMap((k, point) => all[k]!.keys.map((own): KeyChannel => ({ ...own, joint: joint[point]! })));
  const scales = scalesOf(
    kept.map((k) => all[k]!),
    joint,
    frames,
  );
  const eyes = scales ? eyesThatShut(scales, names, joint, frames) : [];
  return {
    motion: {
      ...motion,
      isTimed: true,
      holds: { animations: [json.nm?.trim() || 'animation'], figures: figures.map(({ name }) => name) },
      ...(keys.length > 0 && { keys }),
      ...(scales && { scales }),
      ...(eyes.length > 0 && { weights: eyes }),
      ...(withShape && {
        drawn: { document: drawable(json), frames, width: json.w, height: json.h, bottom: -ground },
      }),
    },
    asShot: options,
    warnings: [...leftOut(json), ...otherRate(json.fr, fps ?? usualFps, fps !== undefined), ...warnings],
  };
}

const rate = (fps: number): string => String(Number(fps.toFixed(3)));

/** A document says in frames when everything is: at another rate it is the same drawings in another time. */
const otherRate = (own: number, asked: number | undefined, isTaken: boolean): string[] =>
  asked === undefined || Math.abs(asked - own) < 0.05
    ? []
    : [
        `the document runs at ${rate(own)} frames a second; ${isTaken ? 'it is taken at' : 'the exercise asks for'} ${rate(asked)}`,
      ];

function boundedLayers(json: LottieJson, frames: number): PuppetLayer[] {
  const count = json.layers.length + (json.assets ?? []).reduce((sum, { layers = [] }) => sum + layers.length, 0);
  if (count * frames > MOST_POSES)
    throw new FormatError(`${count} layers over ${frames} frames are more than can be read`);
  return puppetLayers(json, frames);
}

/** Layers that are measured together. */
interface PuppetFigure {
  readonly name: string;
  readonly layers: readonly number[];
}

/** A body has at least so many layers. */
const LEAST_OF_BODY = 5;

/**
 * The figures of a document, the one with the most layers first: where several compositions have hips of their own, or several trees of layers, each is one,
 * by the name of its composition or of its topmost layer; else all layers are one. What stands still and is no part of a body is scenery.
 */
function figuresOf(all: readonly PuppetLayer[]): PuppetFigure[] {
  const onBody = new Set(Object.values(pointRoles(all.map(({ name }) => name))));
  const shown = all.map((_, k) => k).filter((k) => all[k]!.seen.includes(1));
  const moving = shown.filter((k) => !all[k]!.isStill || onBody.has(k));
  const kept = moving.length > 0 ? moving : shown.length > 0 ? shown : all.map((_, k) => k);
  const inCompositions = bodiesBy(all, kept, (k) => all[k]!.lies).filter(({ of }) => of >= 0);
  const bodies = inCompositions.length > 1 ? inCompositions : bodiesBy(all, kept, (k) => topmost(all, k));
  if (bodies.length < 2) return [{ name: 'puppet', layers: kept }];
  const within = (k: number, of: number): boolean => {
    for (let at = k; at >= 0; at = all[at]!.hangs) if (at === of || all[at]!.lies === of) return true;
    return false;
  };
  const names = toldApart(bodies.map(({ of }) => all[of]!.name));
  return bodies
    .map(({ of }, n) => ({ name: names[n]!, layers: kept.filter((k) => within(k, of)) }))
    .sort((a, b) => b.layers.length - a.layers.length);
}

/** Layers that belong together, as far as they are a body by their names: what one has in front of all of its names is its own. */
function bodiesBy(
  all: readonly PuppetLayer[],
  kept: readonly number[],
  groupOf: (k: number) => number,
): { readonly of: number }[] {
  const groups = new Map<number, string[]>();
  for (const k of kept) groups.set(groupOf(k), [...(groups.get(groupOf(k)) ?? []), all[k]!.name]);
  return [...groups]
    .filter(([, names]) => names.length >= LEAST_OF_BODY && pointRoles(names).hips !== undefined)
    .map(([of]) => ({ of }));
}

/** What a layer hangs from in the end. */
function topmost(all: readonly PuppetLayer[], k: number): number {
  let at = k;
  while (all[at]!.hangs >= 0) at = all[at]!.hangs;
  return at;
}

/** The nearest of what a layer hangs from that is measured as well; −1 for none. */
function nearestKept(all: readonly PuppetLayer[], k: number, indexOf: ReadonlyMap<number, number>): number {
  for (let at = all[k]!.hangs; at >= 0; at = all[at]!.hangs) {
    const point = indexOf.get(at);
    if (point !== undefined) return point;
  }
  return -1;
}

/** A layer as a point on its picture: y up, turned to the left as over 0. */
function pointOf({ places, turns, box }: PuppetLayer, name: string, height: number, hangs: number): PointTrack {
  return {
    name,
    places: places.map((value, k) => (k % 2 === 1 ? height - value : value)),
    confidence: new Float64Array(places.length / 2).fill(1),
    layer: {
      hangs,
      turns: turns.map((degrees) => -degrees),
      ...(box && { box: [box[0], -box[3], box[2], -box[1]] }),
    },
  };
}

/** Which point is which part of a body: by its name and by what it hangs from, as of joints; names alone fill in what that leaves. */
function rolesOf({ points }: PointTracks): { roles: Partial<Record<Role, number>>; warnings: readonly string[] } {
  const at = (point: number): readonly [number, number] => [points[point]!.places[0]!, points[point]!.places[1]!];
  // Each after what it hangs from.
  const joints = points.map(({ name, layer }, point): Joint => {
    const parent = layer!.hangs;
    const [x, y] = at(point);
    const [px, py] = parent < 0 ? [0, 0] : at(parent);
    return { name, parent, offset: [x - px, y - py, 0], ends: [] };
  });
  const guessed = guessRoles(joints);
  // A shape alone tells a body by its legs; without any, names have told what there is.
  const hasLegs = guessed.roles['thigh.L'] !== undefined || guessed.roles['thigh.R'] !== undefined;
  const isBody = hasLegs || rolesByShape(joints) === undefined;
  const named = pointRoles(points.map(({ name }) => name));
  const roles: Partial<Record<Role, number>> = {};
  for (const role of FIGURE_ROLES) if (isBody && guessed.roles[role] !== undefined) roles[role] = guessed.roles[role];
  const taken = new Set(Object.values(roles));
  for (const role of FIGURE_ROLES)
    if (roles[role] === undefined && named[role] !== undefined && !taken.has(named[role])) roles[role] = named[role];
  return { roles, warnings: isBody ? guessed.warnings : [] };
}

/** What eyes are called, and what lies about them that does not shut. */
const EYE = /(^|[^a-z])eye/i;
const NO_EYE = /brow|ball|pupil|socket|lash/i;
/** An eye that never gets lower than this share of its height does not shut. */
const SHUT = 0.4;

/** Eyes that are drawn shut by making them low, as blend shapes that close them: 0 is open. */
function eyesThatShut(
  { joints, values }: NonNullable<Motion['scales']>,
  names: readonly string[],
  jointOf: readonly number[],
  frames: number,
): BlendShape[] {
  return joints.flatMap((joint, slot): BlendShape[] => {
    const name = names[jointOf.indexOf(joint)]!;
    const height = Float64Array.from({ length: frames }, (_, f) => values[3 * (f * joints.length + slot) + 1]!);
    if (!EYE.test(name) || NO_EYE.test(name) || smallestOf(height) > SHUT) return [];
    return [{ name: `${name} shut`, values: height.map((own) => Math.min(1, Math.max(0, 1 - own))) }];
  });
}

/** A scale over the shot that comes so near to full size is one of full size at rest. */
const FULL = 0.02;

/**
 * How layers are scaled and what they draw changes its size, each over its rest: full size where the scale is ever near it, else the middle of the shot.
 * Third of each is 1.
 */
function scalesOf(layers: readonly PuppetLayer[], joints: readonly number[], frames: number): Motion['scales'] {
  const own = layers.flatMap((layer, k) => {
    const rows = [0, 1].map((axis) => overRest(layer, axis, frames));
    return rows.some((row) => row.some((value) => Math.abs(value - 1) > 1e-6)) ? [{ joint: joints[k]!, rows }] : [];
  });
  if (own.length === 0) return undefined;
  const values = new Float64Array(3 * frames * own.length).fill(1);
  own.forEach(({ rows }, slot) => {
    for (let f = 0; f < frames; f++)
      rows.forEach((row, axis) => (values[3 * (f * own.length + slot) + axis] = row[f]!));
  });
  return { joints: own.map(({ joint }) => joint), values };
}

function overRest({ scales, sizes }: PuppetLayer, axis: number, frames: number): Float64Array {
  const scale = Float64Array.from({ length: frames }, (_, f) => Math.abs(scales[2 * f + axis]!));
  const [low, high] = [smallestOf(scale), largestOf(scale)];
  const rest = low <= 1 + FULL && high >= 1 - FULL ? 1 : median(scale);
  // A scale that never changes is how large a layer was drawn.
  const own = high - low < 1e-9 ? scale.fill(1) : scale.map((value) => value / Math.max(1e-9, rest));
  if (!sizes) return own;
  const size = Float64Array.from({ length: frames }, (_, f) => sizes[2 * f + axis]!);
  const usual = median(size);
  return usual > 0 ? own.map((value, f) => (value * size[f]!) / usual) : own;
}
