import { OrthographicCamera, Quaternion, Raycaster, Vector2, Vector3 } from 'three';
import { walkExemplar } from '@ypsigraph/core/exemplar/walk';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import { Figure } from '../src/desk/paper/figure.ts';
import { Inks } from '../src/desk/paper/inks.ts';
import { type View, ViewRig } from '../src/desk/paper/view-rig.ts';
import { useDesk } from '../src/desk/desk-store.ts';

const WIDTH = 900;
const HEIGHT = 560;
const figure = new Figure(prepareShot(walkExemplar(), { kind: 'walk' }), new Inks());
const joint = (name: string): number => figure.shot.motion.joints.findIndex((j) => j.name === name);

/** Where a place in the figure's space falls on the paper, pixels from its upper left. */
function onPaper(rig: ViewRig, place: Vector3): { x: number; y: number; depth: number } {
  const camera = new OrthographicCamera();
  rig.apply(camera, figure.bounds, figure.bounds.centre, WIDTH, HEIGHT);
  const p = place.clone().project(camera);
  return { x: ((p.x + 1) / 2) * WIDTH, y: ((1 - p.y) / 2) * HEIGHT, depth: p.z };
}

const seen = (view: Exclude<View, 'free'>): ViewRig => {
  const rig = new ViewRig();
  rig.look(view);
  return rig;
};
const at = (name: string, sample = 0): Vector3 => figure.place(sample, joint(name), new Vector3());

describe('the view', () => {
  test('from the side the figure walks to the right', () => {
    const rig = seen('side');
    expect(onPaper(rig, at('toe.L')).x).toBeGreaterThan(onPaper(rig, at('foot.L')).x);
    expect(onPaper(rig, at('head')).y).toBeLessThan(onPaper(rig, at('hips')).y);
    expect(onPaper(rig, at('hand.R', 6)).depth).toBeLessThan(onPaper(rig, at('hand.L', 6)).depth);
  });

  test('from the front its left is on our right', () => {
    const rig = seen('front');
    expect(onPaper(rig, at('upperArm.L')).x).toBeGreaterThan(onPaper(rig, at('upperArm.R')).x);
    expect(onPaper(rig, at('toe.L')).depth).toBeLessThan(onPaper(rig, at('foot.L')).depth);
  });

  test('from above it faces right, as from the side', () => {
    const rig = seen('above');
    expect(onPaper(rig, at('toe.L')).x).toBeGreaterThan(onPaper(rig, at('foot.L')).x);
    expect(onPaper(rig, at('head')).depth).toBeLessThan(onPaper(rig, at('foot.L')).depth);
  });

  test.each(['side', 'front', 'above', 'three-quarter'] as const)(
    'from the %s the whole motion is on the paper',
    (view) => {
      const rig = seen(view);
      for (let sample = 0; sample < 25; sample++) {
        figure.shot.motion.joints.forEach((_, j) => {
          const { x, y } = onPaper(rig, figure.place(sample, j, new Vector3()));
          expect(x).toBeGreaterThan(0);
          expect(x).toBeLessThan(WIDTH);
          expect(y).toBeGreaterThan(0);
          expect(y).toBeLessThan(HEIGHT);
        });
      }
    },
  );

  test('zooms about its middle, pans with the hand, and is free once it is turned', () => {
    const rig = seen('side');
    const centre = new Vector3(...figure.bounds.centre);
    const before = onPaper(rig, at('head'));
    rig.zoomBy(2);
    expect(onPaper(rig, centre)).toMatchObject({ x: expect.closeTo(WIDTH / 2), y: expect.closeTo(HEIGHT / 2) });
    expect(HEIGHT / 2 - onPaper(rig, at('head')).y).toBeCloseTo(2 * (HEIGHT / 2 - before.y), 3);
    const unit = rig.unitsPerPixel(figure.bounds, WIDTH, HEIGHT);
    rig.pan(30 * unit, -20 * unit);
    expect(onPaper(rig, centre)).toMatchObject({
      x: expect.closeTo(WIDTH / 2 + 30),
      y: expect.closeTo(HEIGHT / 2 + 20),
    });
    rig.orbit(25, 400);
    expect([rig.view, rig.tilt]).toEqual(['free', 89.9]);
    rig.look('front');
    expect([rig.zoom, rig.panX, rig.turn]).toEqual([1, 0, 0]);
  });

  test('tells everyone who looks through it', () => {
    const rig = new ViewRig();
    let told = 0;
    const stop = rig.subscribe(() => told++);
    rig.look('front');
    rig.zoomBy(1.1);
    stop();
    rig.look('side');
    expect(told).toBe(2);
  });
});

describe('the figure', () => {
  test('stands on the ground, a leg long to its hips', () => {
    expect(at('toe.L', 4).y).toBeGreaterThan(-0.01);
    expect(at('toe.L', 4).y).toBeLessThan(0.05);
    expect(at('hips').y).toBeGreaterThan(1);
    expect(at('hips').y).toBeLessThan(1.2);
  });

  test('is drawn the same from a file whose up is Z', () => {
    const walk = walkExemplar();
    const turn = (v: readonly [number, number, number]): [number, number, number] => [v[0], -v[2], v[1]];
    const q = new Quaternion().setFromAxisAngle(new Vector3(1, 0, 0), Math.PI / 2);
    const rotations = walk.rotations.slice();
    for (let k = 0; k < rotations.length; k += 4) {
      const own = new Quaternion(rotations[k], rotations[k + 1], rotations[k + 2], rotations[k + 3]);
      rotations.set(q.clone().multiply(own).multiply(q.clone().invert()).toArray(), k);
    }
    const translations = Float64Array.from(
      Array.from({ length: walk.frames }, (_, f) =>
        turn(Array.from(walk.translations.subarray(3 * f, 3 * f + 3)) as [number, number, number]),
      ).flat(),
    );
    const joints = walk.joints.map((j) => ({ ...j, offset: turn(j.offset), ends: j.ends.map(turn) }));
    const other = new Figure(prepareShot({ ...walk, joints, rotations, translations }, { kind: 'walk' }), new Inks());
    walk.joints.forEach((_, j) => {
      const a = figure.place(7, j, new Vector3());
      const b = other.place(7, j, new Vector3());
      expect(a.distanceTo(b)).toBeLessThan(1e-6);
    });
  });

  test('puts every joint’s group where the core has the joint, turned as it is', () => {
    figure.pose(9);
    figure.group.updateMatrixWorld(true);
    const wrist = figure.group.children[joint('hand.L')]!;
    expect(wrist.getWorldPosition(new Vector3()).distanceTo(at('hand.L', 9))).toBeLessThan(1e-9);
  });

  test('a ray at a limb finds the joint at its nearer end', () => {
    figure.pose(0);
    figure.group.updateMatrixWorld(true);
    const camera = new OrthographicCamera();
    seen('front').apply(camera, figure.bounds, figure.bounds.centre, WIDTH, HEIGHT);
    const pick = (place: Vector3): string | undefined => {
      const { x, y } = place.clone().project(camera);
      const ray = new Raycaster();
      ray.setFromCamera(new Vector2(x, y), camera);
      const hit = figure.jointHit(ray, 0);
      return hit === undefined ? undefined : figure.shot.motion.joints[hit]!.name;
    };
    const along = (a: string, b: string, u: number): Vector3 => at(a).lerp(at(b), u);
    expect(pick(along('upperArm.L', 'foreArm.L', 0.25))).toBe('upperArm.L');
    expect(pick(along('upperArm.L', 'foreArm.L', 0.75))).toBe('foreArm.L');
    expect(pick(at('head').add(new Vector3(0, 0.12, 0)))).toBe('head');
    expect(pick(new Vector3(3, 0.5, 0))).toBeUndefined();
  });

  test('parts that are hidden can’t be hit', () => {
    figure.hideParts(new Set(['head']));
    const ray = new Raycaster(at('head').add(new Vector3(0, 0.12, 5)), new Vector3(0, 0, -1));
    expect(figure.jointHit(ray, 0)).toBeUndefined();
    figure.hideParts(new Set());
    expect(figure.jointHit(ray, 0)).toBe(joint('head'));
  });
});

test('the desk remembers what is asked of the composer, and which parts are hidden', () => {
  const { ask, togglePart } = useDesk.getState();
  ask('arc');
  ask('arc');
  expect(useDesk.getState().asked).toEqual({ kind: 'arc', count: 2 });
  togglePart('head');
  expect([...useDesk.getState().hidden]).toEqual(['head']);
  togglePart('head');
  expect(useDesk.getState().hidden.size).toBe(0);
});
