import type { Document, Primitive, Skin } from '@gltf-transform/core';
import { normalise, type Vec3 } from '../motion/vector.ts';
import { Body, numbersOf, primitiveOf, wear } from './character-body.ts';

/** What a face does: samples, each with how far a blend shape is on there, in the order of time. What is left out never moves. */
export type FaceKeys = Partial<Record<BlendName, readonly (readonly [sample: number, on: number])[]>>;

type BlendName = 'blink.L' | 'blink.R' | 'mouth open';

/** Where a face goes. */
interface FacePlace {
  readonly document: Document;
  readonly skin: Skin;
  /** The head's own place while it rests, metres, and its joint. */
  readonly at: Vec3;
  readonly joint: number;
  /** Length of a leg, metres: a face is as large as its body. */
  readonly leg: number;
  readonly fps: number;
  readonly keys: FaceKeys | undefined;
}

/** In leg lengths from the head's joint, +Y up, +Z ahead. */
const EYE = { aside: 0.052, up: 0.125, ahead: 0.112, radius: 0.027 };
const MOUTH = { up: 0.03, ahead: 0.118, wide: 0.038, high: 0.007, deep: 0.02, opens: 6 };
const NOSE = { up: 0.078, ahead: 0.138, radius: 0.022 };
/** How far a lid reaches down from its pole, degrees, open and shut; how far that pole leans back; and how far it stands out from the eye. */
const LID = { open: 52, shut: 150, leans: 20, thick: 1.22 };
const INK: Vec3 = [0.02, 0.025, 0.03];
const WHITE: Vec3 = [0.94, 0.92, 0.88];

/** Gives a character a face: eyes with lids that close, a nose, a mouth that opens; each lid and the mouth is a blend shape. */
export function addFace({ document, skin, at, joint, leg, fps, keys = {} }: FacePlace): void {
  const place = (aside: number, up: number, ahead: number): Vec3 => [
    at[0] + leg * aside,
    at[1] + leg * up,
    at[2] + leg * ahead,
  ];
  const round = (radius: number): Vec3 => [leg * radius, leg * radius, leg * radius];
  const [whites, dark, nose, mouth, lids] = [new Body(), new Body(), new Body(), new Body(), new Body()];
  const eyes = [1, -1].map((side) => place(side * EYE.aside, EYE.up, EYE.ahead));
  for (const [x, y, z] of eyes) {
    whites.ball([x, y, z], round(EYE.radius), joint);
    dark.ball([x, y, z + leg * EYE.radius * 0.55], round(EYE.radius * 0.6), joint);
    lids.ball([x, y, z], round(EYE.radius * LID.thick), joint, LID.open);
  }
  nose.ball(place(0, NOSE.up, NOSE.ahead), round(NOSE.radius), joint);
  const lips = place(0, MOUTH.up, MOUTH.ahead);
  mouth.ball(lips, [leg * MOUTH.wide, leg * MOUTH.high, leg * MOUTH.deep], joint);
  eyes.forEach((eye, k) => leanBack(lids, eye, k, eyes.length));

  const coloured = (body: Body, name: string, colour: Vec3): Primitive =>
    primitiveOf(document, body).setMaterial(
      document
        .createMaterial(name)
        .setBaseColorFactor([...colour, 1])
        .setRoughnessFactor(1),
    );
  wear(
    document,
    'face',
    [coloured(whites, 'white of the eye', WHITE), coloured(dark, 'iris', INK), primitiveOf(document, nose)],
    skin,
  );
  const shut = new Body();
  for (const eye of eyes) shut.ball(eye, round(EYE.radius * LID.thick), joint, LID.shut);
  eyes.forEach((eye, k) => leanBack(shut, eye, k, eyes.length));
  const half = lids.positions.length / 2;
  const closing = (side: 0 | 1): Float32Array<ArrayBuffer> =>
    Float32Array.from(lids.positions, (value, k) => (Math.floor(k / half) === side ? shut.positions[k]! - value : 0));
  const opening = Float32Array.from(mouth.positions, (value, k) =>
    k % 3 === 1 ? (value - lips[1]) * (MOUTH.opens - 1) - leg * MOUTH.high * (MOUTH.opens - 1) : 0,
  );
  blending({ document, skin, fps, keys }, 'lids', primitiveOf(document, lids), {
    'blink.L': closing(0),
    'blink.R': closing(1),
  });
  blending({ document, skin, fps, keys }, 'mouth', coloured(mouth, 'mouth', INK), { 'mouth open': opening });
}

/** Leans the cap over an eye back, so that its edge lies above the eye in front and behind it at the back. */
function leanBack({ positions, normals }: Body, eye: Vec3, k: number, of: number): void {
  const [cos, sin] = [Math.cos((LID.leans * Math.PI) / 180), Math.sin((LID.leans * Math.PI) / 180)];
  const each = positions.length / of;
  for (let v = k * each; v < (k + 1) * each; v += 3) {
    const [y, z] = [positions[v + 1]! - eye[1], positions[v + 2]! - eye[2]];
    positions[v + 1] = eye[1] + cos * y + sin * z;
    positions[v + 2] = eye[2] - sin * y + cos * z;
    const own = normalise([
      normals[v]!,
      cos * normals[v + 1]! + sin * normals[v + 2]!,
      cos * normals[v + 2]! - sin * normals[v + 1]!,
    ]);
    for (let n = 0; n < 3; n++) normals[v + n] = own[n]!;
  }
}

/** A mesh with blend shapes, moved by those of its keys that there are. */
function blending(
  { document, skin, fps, keys }: Pick<FacePlace, 'document' | 'skin' | 'fps'> & { readonly keys: FaceKeys },
  name: string,
  primitive: Primitive,
  blends: Partial<Record<BlendName, Float32Array<ArrayBuffer>>>,
): void {
  const names = Object.keys(blends) as BlendName[];
  for (const own of names)
    primitive.addTarget(
      document.createPrimitiveTarget(own).setAttribute('POSITION', numbersOf(document, blends[own]!, 'VEC3')),
    );
  const node = wear(document, name, [primitive], skin);
  node.getMesh()!.setExtras({ targetNames: names });
  node.getMesh()!.setWeights(names.map(() => 0));
  const samples = [...new Set(names.flatMap((own) => (keys[own] ?? []).map(([sample]) => sample)))].sort(
    (a, b) => a - b,
  );
  if (samples.length === 0) return;
  const on = (own: BlendName, sample: number): number => {
    const list = keys[own] ?? [];
    const after = list.findIndex(([at]) => at >= sample);
    if (after <= 0) return (after === 0 ? list[0]! : (list.at(-1) ?? [0, 0]))[1];
    const [[a, from], [b, to]] = [list[after - 1]!, list[after]!];
    return from + ((to - from) * (sample - a)) / (b - a);
  };
  const animation = document.getRoot().listAnimations()[0]!;
  const sampler = document
    .createAnimationSampler()
    .setInput(
      numbersOf(
        document,
        Float32Array.from(samples, (sample) => sample / fps),
        'SCALAR',
      ),
    )
    .setOutput(
      numbersOf(
        document,
        Float32Array.from(samples.flatMap((sample) => names.map((own) => on(own, sample)))),
        'SCALAR',
      ),
    )
    .setInterpolation('LINEAR');
  animation
    .addSampler(sampler)
    .addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath('weights').setSampler(sampler));
}
