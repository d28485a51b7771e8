import { listAt, type Loose, numberAt, objectAt, said } from '../check-json.ts';
import { FormatError, LIMITS } from '../format-error.ts';
import { LAYER, type LottieJson, LOTTIE_LIMITS } from './lottie-json.ts';

/** How much of everything was met so far. */
interface Met {
  keys: number;
  shapes: number;
  layers: number;
}

/**
 * Checks what a document says of itself before anything is made of it: kinds of values, numbers that are none, keys whose times fall, layers that
 * hang from one another in a ring or from none, compositions that show themselves, and how much of everything there is. What only says how a
 * layer is painted is left alone.
 *
 * @throws FormatError in words for the person who handed it in
 */
export function checkLottie(value: unknown): LottieJson {
  const json = objectAt(value, 'the document');
  for (const name of ['fr', 'ip', 'op', 'w', 'h'] as const) numberAt(json[name], `“${name}” of the document`);
  const { fr, ip, op, w, h } = json as unknown as LottieJson;
  if (fr < LIMITS.slowest || fr > LIMITS.fastest)
    throw new FormatError(
      `the document runs at ${fr} frames a second; ${LIMITS.slowest} to ${LIMITS.fastest} can be read`,
    );
  if (!(op > ip)) throw new FormatError(`the document ends at frame ${op}, before it begins at frame ${ip}`);
  if (op - ip > LIMITS.frames)
    throw new FormatError(`the document has ${Math.round(op - ip)} frames; at most ${LIMITS.frames} can be read`);
  if (!(w > 0 && h > 0)) throw new FormatError(`the picture is ${w} × ${h} pixels`);
  if (json.nm !== undefined && typeof json.nm !== 'string')
    throw new FormatError('the name of the document is no text');
  const met: Met = { keys: 0, shapes: 0, layers: 0 };
  const assets = json.assets === undefined ? [] : listAt(json.assets, '“assets”');
  const compositions = new Map<string, Loose>();
  assets.forEach((asset, k) => {
    const own = objectAt(asset, `asset ${k + 1}`);
    const id = typeof own.id === 'number' ? String(own.id) : own.id;
    if (typeof id !== 'string') throw new FormatError(`asset ${k + 1} has no id`);
    if (compositions.has(id)) throw new FormatError(`two assets have the id “${short(id)}”`);
    compositions.set(id, own);
    if (own.layers !== undefined) checkLayers(own.layers, `composition “${short(id)}”`, met);
  });
  checkLayers(json.layers, 'the document', met);
  if ((json.layers as readonly unknown[]).length === 0) throw new FormatError('the document has no layers');
  checkShown(json.layers as readonly Loose[], compositions);
  return json as unknown as LottieJson;
}

const short = (text: string): string => (text.length > 60 ? `${text.slice(0, 60)}…` : text);
const isMany = (count: number, most: number, of: string): void => {
  if (count > most)
    throw new FormatError(
      `the document has more than ${most.toLocaleString('en')} ${of}, which is as many as can be read`,
    );
};

function checkLayers(value: unknown, where: string, met: Met): void {
  const layers = listAt(value, `the layers of ${where}`);
  met.layers += layers.length;
  isMany(met.layers, LOTTIE_LIMITS.layers, 'layers');
  const hangs = new Map<number, number | undefined>();
  layers.forEach((own, k) => {
    const layer = objectAt(own, `layer ${k + 1} of ${where}`);
    const name = `layer ${typeof layer.nm === 'string' ? `“${short(layer.nm)}”` : k + 1} of ${where}`;
    if (typeof layer.nm === 'string' && layer.nm.length > LIMITS.name)
      throw new FormatError(`${name}: its name is longer than ${LIMITS.name} characters`);
    if (!Number.isInteger(layer.ty)) throw new FormatError(`${name}: “ty” does not say what it is`);
    for (const part of ['ip', 'op'] as const) numberAt(layer[part], `${name}, “${part}”`);
    for (const part of ['st', 'sr', 'sw', 'sh'] as const)
      if (layer[part] !== undefined) numberAt(layer[part], `${name}, “${part}”`);
    if (layer.sr === 0) throw new FormatError(`${name}: its time is stretched to nothing`);
    for (const part of ['ind', 'parent'] as const)
      if (layer[part] !== undefined && !Number.isInteger(layer[part]))
        throw new FormatError(`${name}, “${part}”: expected a whole number, found ${said(layer[part])}`);
    // Of two layers with one number the first is meant.
    if (layer.ind !== undefined && !hangs.has(layer.ind as number))
      hangs.set(layer.ind as number, layer.parent as number | undefined);
    if (layer.ks !== undefined) checkTransform(objectAt(layer.ks, `${name}, “ks”`), name, met);
    if (layer.tm !== undefined) checkProperty(layer.tm, `the time of ${name}`, 1, met);
    if (layer.ty === LAYER.shape && layer.shapes !== undefined) checkShapes(layer.shapes, name, met, 0);
  });
  for (const own of layers) {
    const { parent, nm } = own as Loose;
    if (parent !== undefined && !hangs.has(parent as number))
      throw new FormatError(
        `a layer of ${where}${typeof nm === 'string' ? ` (“${short(nm)}”)` : ''} hangs from layer ${parent as number}, which is not there`,
      );
  }
  for (const ind of hangs.keys()) {
    let at: number | undefined = ind;
    for (let steps = 0; at !== undefined; steps++, at = hangs.get(at))
      if (steps > hangs.size) throw new FormatError(`layers of ${where} hang from one another in a ring`);
  }
}

function checkTransform(ks: Loose, name: string, met: Met): void {
  const position = ks.p as Loose | undefined;
  if (position !== undefined && position !== null && position.s === true) {
    checkProperty(position.x, `the position of ${name}`, 1, met);
    checkProperty(position.y, `the position of ${name}`, 1, met);
  } else if (position !== undefined) checkProperty(position, `the position of ${name}`, 2, met);
  for (const [part, what, width] of [
    ['a', 'the anchor', 2],
    ['s', 'the scale', 2],
    ['r', 'the rotation', 1],
    ['rz', 'the rotation', 1],
    ['rx', 'the rotation', 1],
    ['ry', 'the rotation', 1],
    ['o', 'the opacity', 1],
    ['sk', 'the skew', 1],
    ['sa', 'the axis of the skew', 1],
  ] as const)
    if (ks[part] !== undefined) checkProperty(ks[part], `${what} of ${name}`, width, met);
}

/** @param width numbers that it must have at least; 0 for an outline */
function checkProperty(value: unknown, where: string, width: number, met: Met): void {
  const { k } = objectAt(value, where);
  if (Array.isArray(k) && typeof k[0] === 'object' && k[0] !== null && !Array.isArray(k[0]) && 't' in k[0]) {
    met.keys += k.length;
    isMany(met.keys, LOTTIE_LIMITS.keys, 'keys');
    let before = -Infinity;
    k.forEach((own: unknown, n) => {
      const key = objectAt(own, `key ${n + 1} of ${where}`);
      const at = numberAt(key.t, `the time of key ${n + 1} of ${where}`);
      if (at < before) throw new FormatError(`${where}: key ${n + 1} lies at frame ${at}, before the one it follows`);
      before = at;
      for (const part of ['s', 'e'] as const)
        if (key[part] !== undefined) checkValue(key[part], `key ${n + 1} of ${where}`, width);
      for (const part of ['i', 'o'] as const)
        if (key[part] !== undefined && key[part] !== null) checkEase(key[part], `the ease of key ${n + 1} of ${where}`);
      for (const part of ['ti', 'to'] as const)
        if (key[part] !== undefined && key[part] !== null)
          checkNumbers(key[part], `the way at key ${n + 1} of ${where}`, width);
    });
    const first = k[0] as Loose;
    if (first.s === undefined) throw new FormatError(`${where}: the first key has no value`);
  } else checkValue(k, where, width);
}

function checkEase(value: unknown, where: string): void {
  const { x, y } = objectAt(value, where);
  for (const own of [x, y]) checkNumbers(Array.isArray(own) ? own : [own], where, 1);
}

function checkValue(value: unknown, where: string, width: number): void {
  if (width === 0) return checkOutline(Array.isArray(value) ? value[0] : value, where);
  checkNumbers(Array.isArray(value) ? value : [value], where, width);
}

function checkNumbers(value: unknown, where: string, width: number): void {
  const list = listAt(value, where);
  if (list.length < width) throw new FormatError(`${where}: expected ${width} numbers, found ${list.length}`);
  for (const own of list) numberAt(own, where);
}

function checkOutline(value: unknown, where: string): void {
  const outline = objectAt(value, where);
  const lists = (['v', 'i', 'o'] as const).map((part) => listAt(outline[part], `${where}, “${part}”`));
  if (lists[0]!.length > LOTTIE_LIMITS.vertices)
    throw new FormatError(`${where}: an outline of ${lists[0]!.length} points; at most ${LOTTIE_LIMITS.vertices}`);
  for (const list of lists) {
    if (list.length !== lists[0]!.length) throw new FormatError(`${where}: points and handles are not as many`);
    for (const point of list) checkNumbers(point, where, 2);
  }
}

function checkShapes(value: unknown, name: string, met: Met, depth: number): void {
  if (depth > LOTTIE_LIMITS.groups)
    throw new FormatError(`${name}: groups lie more than ${LOTTIE_LIMITS.groups} deep in one another`);
  const shapes = listAt(value, `the shapes of ${name}`);
  met.shapes += shapes.length;
  isMany(met.shapes, LOTTIE_LIMITS.shapes, 'shapes');
  for (const own of shapes) {
    const shape = objectAt(own, `a shape of ${name}`);
    const at = `a shape of ${name}`;
    if (shape.ty === 'gr') checkShapes(shape.it ?? [], name, met, depth + 1);
    if (shape.ty === 'sh') checkProperty(shape.ks, at, 0, met);
    if (shape.ty === 'el' || shape.ty === 'rc')
      for (const part of ['p', 's'] as const) checkProperty(shape[part], at, 2, met);
    if (shape.ty === 'sr') {
      checkProperty(shape.p, at, 2, met);
      checkProperty(shape.or, at, 1, met);
    }
    if (shape.ty === 'tr') checkTransform(shape, at, met);
  }
}

/** Every composition that is shown is there, shows itself nowhere, and all of them together are not too many layers. */
function checkShown(layers: readonly Loose[], compositions: ReadonlyMap<string, Loose>): void {
  let count = 0;
  const walk = (own: readonly Loose[], within: readonly string[]): void => {
    for (const { ty, refId } of own) {
      count++;
      isMany(count, LOTTIE_LIMITS.layers, 'layers, with every composition where it is shown,');
      if (ty !== LAYER.precomp) continue;
      const id = String(refId);
      const asset = compositions.get(id);
      if (!asset || !Array.isArray(asset.layers))
        throw new FormatError(`a layer shows the composition “${short(id)}”, which is not there`);
      if (within.includes(id)) throw new FormatError(`the composition “${short(id)}” shows itself`);
      if (within.length >= LOTTIE_LIMITS.within)
        throw new FormatError(`compositions lie more than ${LOTTIE_LIMITS.within} deep in one another`);
      walk(asset.layers as readonly Loose[], [...within, id]);
    }
  };
  walk(layers, []);
}
