/**
 * @jest-environment jsdom
 *
 * Where layers are, held against lottie-web 5 (the Lottie community's own player, MIT), which works them out by its own code: parents, anchors, eases, curved
 * ways, holds, skew, compositions within one another, their start, stretch and remapped time. To a twentieth of a pixel: the player keeps single precision.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { TextDecoder, TextEncoder } from 'node:util';
import fc from 'fast-check';
import type { LottieJson, LottieKey, LottieLayer, LottieProperty } from '../src/formats/lottie/lottie-json.ts';
import { checkLottie } from '../src/formats/lottie/check-lottie.ts';
import { puppetLayers } from '../src/formats/lottie/puppet-layers.ts';
import { documentOf, layerOf } from './puppets.ts';

Object.assign(globalThis, { TextDecoder, TextEncoder });
// The player asks for a canvas of one pixel when it is loaded, which this page has none of.
HTMLCanvasElement.prototype.getContext = (() => ({ fillRect: () => undefined })) as never;

interface Playing {
  goToAndStop(frame: number, isFrame: boolean): void;
  readonly renderer: { readonly elements: readonly (Element | undefined)[] };
  destroy(): void;
}
interface Element {
  readonly data: LottieLayer;
  readonly finalTransform: { readonly mat: { readonly props: ArrayLike<number> } };
  readonly elements?: readonly (Element | undefined)[];
}

type Affine = readonly [number, number, number, number, number, number];
const within = ([a, b, c, d, e, f]: Affine, [p, q, r, s, t, u]: Affine): Affine => [
  a * p + c * q,
  b * p + d * q,
  a * r + c * s,
  b * r + d * s,
  a * t + c * u + e,
  b * t + d * u + f,
];

/** The player's own transform of every layer by its name, in the document's pixels. */
function playedTransforms(
  elements: readonly (Element | undefined)[],
  outer: Affine = [1, 0, 0, 1, 0, 0],
): Map<string, Affine> {
  const found = new Map<string, Affine>();
  for (const element of elements) {
    // What it has not come to yet it has not made.
    if (!element) continue;
    const { props } = element.finalTransform.mat;
    const own = within(outer, [props[0]!, props[1]!, props[4]!, props[5]!, props[12]!, props[13]!]);
    found.set(element.data.nm!, own);
    if (element.elements) for (const [name, inner] of playedTransforms(element.elements, own)) found.set(name, inner);
  }
  return found;
}

/** Opens a document in the player, which writes into what it is given. */
async function openPlayer(): Promise<(animationData: object) => Playing> {
  const { default: player } = (await import('lottie-web/build/player/lottie_light.js')) as unknown as {
    default: { loadAnimation(options: object): Playing };
  };
  return (animationData) =>
    player.loadAnimation({
      container: document.createElement('div'),
      renderer: 'svg',
      autoplay: false,
      animationData,
    });
}

const filesIn = (folder: string): string[] =>
  readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    return entry.isDirectory() ? filesIn(path) : path.endsWith('.json') ? [path] : [];
  });

async function againstPlayer(json: LottieJson): Promise<void> {
  const playing = (await openPlayer())(asFilesAreWritten(json));
  const frames = json.op - json.ip;
  const layers = puppetLayers(json, frames);
  for (let f = 0; f < frames; f++) {
    playing.goToAndStop(f, true);
    const theirs = playedTransforms(playing.renderer.elements);
    layers.forEach(({ name, places, turns, seen }) => {
      const own = theirs.get(name);
      // What is out of its own time the player leaves as it was.
      if (!own || seen[f] === 0) return;
      const anchor = anchors.get(name)!;
      const [a, b, c, d, e, g] = own;
      expect(places[2 * f]).toBeCloseTo(a * anchor[0]! + c * anchor[1]! + e, 1);
      expect(places[2 * f + 1]).toBeCloseTo(b * anchor[0]! + d * anchor[1]! + g, 1);
      const turn = (Math.atan2(-c, d) * 180) / Math.PI;
      expect(Math.cos(((turns[f]! - turn) * Math.PI) / 180)).toBeGreaterThan(1 - 1e-8);
    });
  }
  playing.destroy();
}

/** Anchors of layers by their names: what stands still of them. */
const anchors = new Map<string, readonly number[]>();

/** What the player wants of every property beside what the specification does. */
function asFilesAreWritten(json: LottieJson): object {
  const property = (own: LottieProperty | undefined, rest: unknown): object => ({
    a: Array.isArray(own?.k) && typeof own.k[0] === 'object' ? 1 : 0,
    k: JSON.parse(JSON.stringify(own?.k ?? rest)) as unknown,
  });
  const layer = (own: LottieLayer, k: number): object => ({
    ...own,
    // Where what draws nothing is the player works out only where something hangs from it.
    ...(own.ty === 3 && { ty: 4, shapes: [] }),
    ddd: 0,
    sr: own.sr ?? 1,
    st: own.st ?? 0,
    ind: own.ind ?? k + 100,
    bm: 0,
    ao: own.ao ?? 0,
    ...(own.tm && { tm: property(own.tm, 0) }),
    ks: {
      a: property(own.ks?.a, [0, 0, 0]),
      p:
        own.ks?.p && 's' in own.ks.p
          ? { s: true, x: property(own.ks.p.x, 0), y: property(own.ks.p.y, 0) }
          : property(own.ks?.p as LottieProperty, [0, 0, 0]),
      s: property(own.ks?.s, [100, 100, 100]),
      r: property(own.ks?.r, 0),
      o: property(undefined, 100),
      sk: property(own.ks?.sk, 0),
      sa: property(own.ks?.sa, 0),
    },
  });
  return {
    v: '5.7.0',
    ...json,
    layers: json.layers.map(layer),
    assets: (json.assets ?? []).map((asset) => ({ ...asset, layers: asset.layers?.map(layer) })),
  };
}

const number = (from: number, to: number): fc.Arbitrary<number> =>
  fc.integer({ min: Math.round(100 * from), max: Math.round(100 * to) }).map((value) => value / 100);
const handle = fc.record({ x: fc.tuple(number(0.02, 0.98)), y: fc.tuple(number(-0.3, 1.3)) });
/** The player looks along a curve from where it was a frame ago, and so follows eases that never go back. */
const forth = fc.record({ x: fc.tuple(number(0.02, 0.98)), y: fc.tuple(number(0, 1)) });
const waysOf = (own: typeof handle): fc.Arbitrary<Partial<LottieKey>> =>
  fc.oneof(
    fc.constant<Partial<LottieKey>>({ h: 1 }),
    fc.record({ o: own, i: own }) as fc.Arbitrary<Partial<LottieKey>>,
  );
/** Three keys at 2, 9 and 17. */
const moving = (values: fc.Arbitrary<readonly number[]>, curved = false): fc.Arbitrary<LottieProperty> =>
  fc
    .tuple(
      fc.tuple(values, values, values),
      fc.tuple(waysOf(curved ? forth : handle), waysOf(curved ? forth : handle)),
      fc.array(fc.tuple(number(-60, 60), number(-60, 60)), { minLength: 4, maxLength: 4 }),
    )
    .map(([all, [first, second], [a, b, c, d]]) => ({
      k: [
        { t: 2, s: all[0], ...first, ...(curved && !first.h && { to: [...a!, 0], ti: [...b!, 0] }) },
        { t: 9, s: all[1], ...second, ...(curved && !second.h && { to: [...c!, 0], ti: [...d!, 0] }) },
        { t: 17, s: all[2] },
      ],
    }));
const place = fc.tuple(number(0, 400), number(0, 300), fc.constant(0));
const transform = fc.record({
  a: fc.tuple(number(-40, 40), number(-40, 40), fc.constant(0)).map((k): LottieProperty => ({ k })),
  p: fc.oneof(
    moving(place),
    moving(place, true),
    fc.record({
      s: fc.constant(true as const),
      x: moving(fc.tuple(number(0, 400))),
      y: moving(fc.tuple(number(0, 300))),
    }),
  ),
  s: moving(fc.tuple(number(40, 160), number(40, 160), fc.constant(100))),
  r: moving(fc.tuple(number(-200, 200))),
  sk: fc.oneof(
    fc.constant<LottieProperty>({ k: 0 }),
    number(-30, 30).map((k): LottieProperty => ({ k })),
  ),
  sa: number(-90, 90).map((k): LottieProperty => ({ k })),
});

const keeping = (layers: readonly LottieLayer[]): readonly LottieLayer[] => {
  for (const { nm, ks } of layers) anchors.set(nm!, (ks?.a?.k as readonly number[] | undefined) ?? [0, 0]);
  return layers;
};

it('puts layers that hang from one another where the player does', async () => {
  await fc.assert(
    fc.asyncProperty(fc.tuple(transform, transform, transform), async ([keeper, arm, lamp]) => {
      const layers = keeping([
        layerOf('lamp', lamp, { ind: 3, parent: 2 }),
        layerOf('arm', arm, { ind: 2, parent: 1 }),
        layerOf('keeper', keeper, { ind: 1 }),
      ]);
      await againstPlayer(documentOf(layers));
    }),
    { numRuns: 40, seed: 7, endOnFailure: true },
  );
});

it('puts compositions within one another where and when the player does', async () => {
  const time = fc.oneof(fc.constant(undefined), moving(fc.tuple(number(0, 0.9))));
  await fc.assert(
    fc.asyncProperty(
      fc.tuple(transform, transform, fc.constantFrom(0, 3, -2), fc.constantFrom(1, 2, 0.5), time),
      async ([boat, mast, st, sr, tm]) => {
        const inner = keeping([layerOf('mast', mast, { ip: -50, op: 200 })]);
        const outer = keeping([layerOf('boat', boat, { ty: 0, refId: 'harbour', st, sr, op: 24, ...(tm && { tm }) })]);
        // The player wants the size of what a layer shows.
        const layers = outer.map((layer) => ({ ...layer, w: 400, h: 300 }));
        await againstPlayer(documentOf(layers, { assets: [{ id: 'harbour', layers: inner }] }));
      },
    ),
    { numRuns: 40, seed: 11, endOnFailure: true },
  );
});

it('puts the layers of documents that other people drew where the player does', async () => {
  // The 79 animated signs of the registry's react-useanimations 2 (MIT), exported from the program that most such files come from.
  const folder = dirname(require.resolve('react-useanimations/package.json'));
  const files = filesIn(join(folder, 'lib'));
  expect(files.length).toBe(79);
  const player = await openPlayer();
  let compared = 0;
  for (const file of files) {
    const json = checkLottie(JSON.parse(readFileSync(file, 'utf8')));
    const playing = player(JSON.parse(readFileSync(file, 'utf8')) as object);
    const frames = Math.min(60, Math.ceil(json.op - json.ip));
    const layers = puppetLayers(json, frames).filter(({ lies }) => lies < 0);
    for (let f = 0; f < frames; f++) {
      playing.goToAndStop(f, true);
      for (const element of playing.renderer.elements) {
        const { ty, nm, ks } = element?.data ?? {};
        const own = layers.filter(({ name }) => name === nm);
        const anchor = ks?.a?.k;
        if (ty === 3 || own.length !== 1 || own[0]!.seen[f] === 0) continue;
        if (!Array.isArray(anchor) || typeof anchor[0] !== 'number') continue;
        const [x, y] = anchor as number[];
        const { props } = element!.finalTransform.mat;
        expect(own[0]!.places[2 * f]).toBeCloseTo(props[0]! * x! + props[4]! * y! + props[12]!, 1);
        expect(own[0]!.places[2 * f + 1]).toBeCloseTo(props[1]! * x! + props[5]! * y! + props[13]!, 1);
        compared++;
      }
    }
    playing.destroy();
  }
  expect(compared).toBeGreaterThan(3000);
});
