import { figureScale } from '../../motion/figure-scale.ts';
import type { Joint, Motion } from '../../motion/motion.ts';
import { guessRoles } from '../../motion/roles.ts';
import type { Beside, ReadMotion, ReadOptions } from '../format.ts';
import { FormatError, LIMITS } from '../format-error.ts';
import { readAccessors } from './accessors.ts';
import { blendShapesOf } from './blend-shapes.ts';
import { checkGltf } from './check-gltf.ts';
import { buffersOf, openGltf, refuseLargeTextures } from './container.ts';
import { chosenFigure, figuresOf, type GltfFigure } from './figures.ts';
import { frameGrid, type FrameGrid } from './frame-grid.ts';
import type { GltfAnimation, GltfJson } from './gltf-json.ts';
import { keyChannelsOf } from './key-channels.ts';
import { restOf } from './rest-pose.ts';
import { sampledJoints } from './sampled-joints.ts';
import { toldApart } from '../told-apart.ts';
import { parentsOf } from './nodes.ts';
import { type Channel, channelsOf } from './scene.ts';
import { girthsOf } from './girths.ts';
import { shapeOf } from './character-shape.ts';
import { propsOf } from './props.ts';
import { camerasOf } from './shot-cameras.ts';
import { stoodUp } from './stood-up.ts';

/**
 * Reads the motion of a figure out of a glTF 2.0 file (Khronos, *glTF 2.0 Specification*): a `.glb`, or a `.gltf` with what it needs beside it.
 *
 * What is read is where its joints are in the world at every frame, whatever they hang from: parents that turn or scale, joints that are scaled,
 * skins that are bound in another pose than the nodes stand in. Metres, +Y up.
 *
 * @param beside gives files that a `.gltf` names
 * @throws FormatError with what was expected
 */
export async function readGltf(
  bytes: Uint8Array,
  options: ReadOptions = {},
  beside: Beside = () => undefined,
): Promise<ReadMotion> {
  const { json: loose, binary } = openGltf(bytes);
  const json = checkGltf(loose);
  const buffers = buffersOf(json, binary, beside);
  refuseLargeTextures(json, buffers, beside);
  const warnings: string[] = [];
  const [animation, animations] = await chosenAnimation(json, buffers, options.animation);
  const needed = animation.samplers.flatMap(({ input, output }) => [input, output]);
  const binds = (json.skins ?? []).flatMap(({ inverseBindMatrices: own }) => (own === undefined ? [] : [own]));
  const accessors = await readAccessors(json, [...needed, ...binds], buffers);
  const channels = channelsOf(animation, accessors);
  checkTimes(channels);
  const parents = parentsOf(json);
  const moved = new Set(channels.filter(({ path }) => path !== 'weights').map(({ node }) => node));
  const figures = figuresOf(json, parents, moved);
  const figure = chosenFigure(figures, options.figure);
  if (figure.joints.length > LIMITS.joints)
    throw new FormatError(
      `the figure has ${figure.joints.length.toLocaleString('en')} joints; at most ${LIMITS.joints.toLocaleString('en')} can be read`,
    );
  if (animations.length > 1 && options.animation === undefined)
    warnings.push(
      `the file holds ${animations.length} animations, ${listed(animations)}: “${animations[0]!}” is read, the longest`,
    );
  if (figures.length > 1 && options.figure === undefined)
    warnings.push(
      `the file holds ${figures.length} figures, ${listed(figures.map(({ name }) => name))}: “${figure.name}” is read`,
    );

  const own = ofFigure(channels, figure, parents);
  const grid = frameGrid(timesOf(own), {
    ...(options.fps !== undefined && { fps: options.fps }),
    ...(options.usualFps !== undefined && { usual: options.usualFps }),
  });
  checkGrid(grid, figure);
  if (grid.between) warnings.push(`some of its keys lie between frames: it is read at ${grid.fps} frames a second`);
  if (grid.lead > 1)
    warnings.push(`nothing is keyed before frame ${grid.lead} of it: the ${grid.lead} frames before are left out`);
  const rest = restOf(json, parents, figure, accessors);
  const made = sampledJoints(json, parents, figure, channels, grid, rest.joints);
  const { made: stood, turn, sceneTurn } = stoodUp(made.joints, made, warnings);
  const { weights } = blendShapesOf(json, channels, figure, parents, grid);
  const moving = new Set(weights?.map(({ name }) => name));
  // Who only measures can do without the shape, where something is wrong with it.
  const shape = await shapeOf({
    json,
    buffers,
    parents,
    figure,
    rest,
    turn,
    moving,
    beside,
    draco: options.draco,
  }).catch((error: unknown) => {
    if (options.withShape || !(error instanceof FormatError)) throw error;
    return undefined;
  });
  return {
    motion: {
      ...stood,
      frames: grid.frames,
      fps: grid.fps,
      up: '+Y',
      isTimed: true,
      lead: grid.lead,
      holds: { animations, figures: figures.map(({ name }) => name) },
      keys: keyChannelsOf(own, figure, grid),
      ...(weights && { weights }),
      ...camerasOf(json, channels, parents, grid, sceneTurn),
      ...(await propsOf({
        json,
        buffers,
        channels,
        parents,
        figures,
        grid,
        sceneTurn,
        withShape: options.withShape === true,
      })),
      ...(shape && { girths: girthsOf(shape, stood.joints) }),
      ...(shape && options.withShape && { shape }),
      ...sizeOf(stood.joints, warnings),
    },
    warnings,
  };
}

const listed = (list: readonly string[]): string =>
  list.length > 6
    ? `${list
        .slice(0, 6)
        .map((own) => `“${own}”`)
        .join(', ')} and ${list.length - 6} more`
    : list.map((own) => `“${own}”`).join(', ');

/** The animation that is asked for by its name or its number, the longest being the first; and the names of all. */
async function chosenAnimation(
  json: GltfJson,
  buffers: readonly Uint8Array[],
  asked: string | undefined,
): Promise<[GltfAnimation, string[]]> {
  const all = (json.animations ?? []).filter(({ channels }) => channels.length > 0);
  if (all.length === 0) throw new FormatError('the file holds no animation: its figure stands still');
  const inputs = await readAccessors(
    json,
    all.flatMap(({ samplers }) => samplers.map(({ input }) => input)),
    buffers,
  );
  const lasts = ({ samplers }: GltfAnimation): number => {
    let [from, to] = [Infinity, -Infinity];
    for (const { input } of samplers)
      for (const time of inputs.get(input)!) [from, to] = [Math.min(from, time), Math.max(to, time)];
    return to - from;
  };
  const sorted = all
    .map((animation, k) => ({
      animation,
      name: animation.name?.trim() || `animation ${k + 1}`,
      lasts: lasts(animation),
    }))
    .sort((a, b) => b.lasts - a.lasts);
  const names = toldApart(sorted.map(({ name }) => name));
  if (asked === undefined) return [sorted[0]!.animation, names];
  const found =
    sorted.find(({ name }) => name === asked) ??
    sorted.find(({ name }) => name.toLowerCase() === asked.toLowerCase()) ??
    (/^\d+$/.test(asked) ? sorted[Number(asked) - 1] : undefined);
  if (!found) throw new FormatError(`no animation is called “${asked}”; there are ${listed(names)}`);
  return [found.animation, names];
}

function checkTimes(channels: readonly Channel[]): void {
  for (const { keys, node, path } of channels)
    keys.times.forEach((time, k) => {
      if (time < 0) throw new FormatError(`node ${node}, ${path}: a key lies before time 0`);
      if (k > 0 && time <= keys.times[k - 1]!)
        throw new FormatError(`node ${node}, ${path}: its keys do not follow one another in time`);
    });
}

function checkGrid({ fps, frames }: FrameGrid, figure: GltfFigure): void {
  const most = Math.min(LIMITS.frames, Math.floor(LIMITS.poses / figure.joints.length));
  if (frames > most)
    throw new FormatError(
      `it lasts ${frames.toLocaleString('en')} frames at ${fps} frames a second; at most ${most.toLocaleString('en')} can be read`,
    );
}

/** Channels that move the figure: its own, and those of what it hangs from. */
function ofFigure(channels: readonly Channel[], { joints }: GltfFigure, parents: Int32Array): Channel[] {
  const above = new Set<number>(joints);
  for (const joint of joints)
    for (let node = parents[joint]!; node >= 0 && !above.has(node); node = parents[node]!) above.add(node);
  return channels.filter(({ node, path }) => path !== 'weights' && above.has(node));
}

function* timesOf(channels: readonly Channel[]): Generator<number> {
  for (const times of new Set(channels.map(({ keys }) => keys.times))) yield* times;
}

/** A leg shorter or longer than this, metres, is no person's: the file's unit is another. */
const LEG = { shortest: 0.3, longest: 1.6 };

/** The unit of the file by the standard, unless its figure would be no person's size by that. */
function sizeOf(joints: readonly Joint[], warnings: string[]): Pick<Motion, 'metresPerUnit'> {
  const { roles } = guessRoles(joints);
  const { legLength, fromLegs } = figureScale(joints, roles);
  if (!fromLegs || (legLength >= LEG.shortest && legLength <= LEG.longest)) return { metresPerUnit: 1 };
  warnings.push(`a leg of it is ${legLength.toPrecision(3)} m long by the file: it is taken to be an adult's`);
  return {};
}
