import {
  BufferGeometry,
  type Camera,
  Color,
  Group,
  LineBasicMaterial,
  LineLoop,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  OrthographicCamera,
  PerspectiveCamera,
  PlaneGeometry,
  Raycaster,
  Scene,
  SphereGeometry,
  Vector2,
  Vector3,
  WebGLRenderer,
} from 'three';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import type { LensFrame } from '../lenses/lens.ts';
import { strokeSample } from '../lenses/stick.ts';
import type { Travel } from '../frames/frame-source.ts';
import { type Eyes, Figure } from './figure.ts';
import { Inks, type Palette } from './inks.ts';
import type { PaperPoint, PaperScene } from './paper-scene.ts';
import type { Bounds, ViewRig } from './view-rig.ts';

/** Width of the figure's outline in pixels. */
const OUTLINE_PIXELS = 1.5;
/** How far the ground's line reaches to both sides, in leg lengths. */
const GROUND_REACH = 30;
/** Half the floor's size that is seen from above, across and along, in leg lengths. */
const FLOOR = [1.3, 1.7] as const;
/** A frame that has not come after so long is not waited for, milliseconds. */
const LATE_MS = 400;
/** Times round that a figure going over the ground is seen. */
const LAPS = 2;
/** A view tilted by less than this, degrees, sees the ground as a line. */
const LEVEL = 2;

const FLAT = [
  new Vector3(-GROUND_REACH, 0, 0),
  new Vector3(GROUND_REACH, 0, 0),
  new Vector3(0, 0, -GROUND_REACH),
  new Vector3(0, 0, GROUND_REACH),
];

/** One paper: a figure on its ground, seen through the desk's shared view, drawn with WebGL. */
export class FigureScene implements PaperScene {
  readonly turns = true;
  figure: Figure | undefined;
  /** The joint the view goes with; −1 for none. */
  ride = -1;
  /** Going over the ground: samples of a time round, and how far it goes, in the figure's space. */
  private going: { readonly period: number; readonly perFrame: Vector3; readonly perLap: Vector3 } | undefined;
  private lap = 0;
  /** Undefined where the browser draws no WebGL: then only what the lenses lay over is drawn. */
  private readonly renderer: WebGLRenderer | undefined;
  private readonly scene = new Scene();
  private readonly eyes: Eyes = { inDepth: new PerspectiveCamera(), level: new OrthographicCamera() };
  /** The one that it is seen with. */
  private camera: Camera = this.eyes.level;
  /** It is seen through the shot's own camera. */
  private ownCamera = false;
  private readonly inks = new Inks();
  private readonly ground = new Group();
  private readonly groundInk = new LineBasicMaterial();
  /** Flat ground seen from above: one sheet, so that it is a plane and no crossing lines. */
  private readonly floor = new Mesh(
    new PlaneGeometry(2 * FLOOR[0], 2 * FLOOR[1]).rotateX(-Math.PI / 2),
    new MeshBasicMaterial({ transparent: true, opacity: 0.75, depthWrite: false }),
  );
  private readonly floorEdge = new LineLoop(
    new BufferGeometry().setFromPoints([
      new Vector3(-FLOOR[0], 0, -FLOOR[1]),
      new Vector3(FLOOR[0], 0, -FLOOR[1]),
      new Vector3(FLOOR[0], 0, FLOOR[1]),
      new Vector3(-FLOOR[0], 0, FLOOR[1]),
    ]),
    this.groundInk,
  );
  private readonly shadows: Mesh[] = [];
  private readonly shadowInk = new MeshBasicMaterial({ transparent: true, depthWrite: false });
  private readonly p = new Vector3();
  private readonly then = new Vector3();
  private readonly slide = new Vector3();
  private readonly target: [number, number, number] = [0, 0.5, 0];
  private width = 1;
  private height = 1;
  private sample = 0;
  private queued = 0;
  private late: ReturnType<typeof setTimeout> | undefined;
  private seen = 0;
  private readonly lastCamera = new Float64Array(33);

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly rig: ViewRig,
    private readonly drawn: () => void,
  ) {
    // A browser that lost what it drew (its graphics were restarted) gives an empty canvas back.
    canvas.addEventListener('webglcontextrestored', this.onRestored);
    try {
      this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true, preserveDrawingBuffer: true });
      this.renderer.setClearColor(new Color(0, 0, 0), 0);
    } catch {
      this.renderer = undefined;
    }
    this.floor.renderOrder = -2;
    this.floor.position.y = this.floorEdge.position.y = -0.02;
    this.scene.add(this.ground, this.floor, this.floorEdge);
    this.buildGround(FLAT);
  }

  /** Whether the figure itself is drawn. */
  get draws(): boolean {
    return this.renderer !== undefined;
  }

  /** The sample that is shown. */
  get shown(): number {
    return this.sample;
  }

  show(shot: PreparedShot): void {
    if (this.figure) {
      this.scene.remove(this.figure.group);
      this.figure.dispose();
    }
    this.figure = new Figure(shot, this.inks, () => this.draw());
    this.scene.add(this.figure.group);
    this.buildGround(this.figure.ground ?? FLAT);
    this.draw();
  }

  /** Box that the view is fitted to: of one that goes over the ground, all of its way. */
  get bounds(): Bounds {
    const own = this.figure?.bounds ?? { centre: [0, 1, 0], height: 2.1, width: 1.5 };
    if (!this.going || this.ride >= 0) return own;
    const { x, z } = this.going.perLap;
    const turn = (this.rig.turn * Math.PI) / 180;
    return { ...own, width: own.width + LAPS * Math.abs(x * Math.cos(turn) + z * Math.sin(turn)) };
  }

  /** Whether what lies at the end of the loop is not where it began. */
  get travels(): boolean {
    return this.going !== undefined;
  }

  /** Lets the figure of a loop go over the ground; undefined keeps it on the spot. */
  travel(travel: Travel | undefined, period: number): void {
    const turned = ([x, y, z]: readonly [number, number, number]): Vector3 =>
      this.figure!.fromFile(x, y, z, new Vector3()).sub(this.figure!.fromFile(0, 0, 0, this.then));
    this.going =
      travel && this.figure ? { period, perFrame: turned(travel.perFrame), perLap: turned(travel.perLap) } : undefined;
    this.seen++;
    this.draw();
  }

  pose(sample: number, lap = 0): void {
    if (lap !== this.lap) this.seen++;
    this.sample = sample;
    this.lap = lap;
    this.draw();
  }

  /** How far a figure that goes over the ground has come at a sample: half of all its way lies behind the middle. */
  private gone(sample: number, out: Vector3): Vector3 {
    if (!this.going) return out.set(0, 0, 0);
    const { perFrame, perLap, period } = this.going;
    const laps = this.lap + Math.floor(sample / period) - LAPS / 2;
    return out
      .copy(perLap)
      .multiplyScalar(laps)
      .addScaledVector(perFrame, ((sample % period) + period) % period);
  }

  /** Where a joint is at a sample, beyond the loop's end too. */
  private placed(sample: number, joint: number, out: Vector3): Vector3 {
    const own = this.going ? ((sample % this.going.period) + this.going.period) % this.going.period : sample;
    return this.figure!.place(this.inLoop(own), joint, out).add(this.gone(sample, this.slide));
  }

  /** A sample of the figure's own for one beyond its ends. */
  private inLoop(sample: number): number {
    const { loop, motion } = this.figure!.shot;
    if (sample >= 0 && sample < motion.frames) return sample;
    const period = loop === 'repeat' ? motion.frames - 1 : motion.frames;
    return ((sample % period) + period) % period;
  }

  colour(palette: Palette, silhouette: boolean): void {
    this.inks.colour(palette, silhouette);
    this.groundInk.color.copy(palette.graphite);
    this.floor.material.color.copy(palette.wash);
    this.shadowInk.color.copy(palette.ink);
    this.draw();
  }

  /** Shows the student's own character, where there is one, or the plain figure. */
  asCharacter(wanted: boolean): void {
    this.figure?.asCharacter(wanted);
    this.draw();
  }

  hideParts(hidden: ReadonlySet<string>): void {
    this.figure?.hideParts(hidden);
    this.draw();
  }

  resize(width: number, height: number): void {
    this.width = Math.max(1, width);
    this.height = Math.max(1, height);
    this.renderer?.setPixelRatio(Math.min(2, devicePixelRatio));
    this.renderer?.setSize(this.width, this.height, false);
    this.draw();
  }

  get size(): { width: number; height: number } {
    return { width: this.width, height: this.height };
  }

  /** Leg lengths a pixel covers, as it is seen now. */
  get unitsPerPixel(): number {
    return this.unitAt(this.bounds);
  }

  private unitAt(bounds: Bounds): number {
    if (!this.ownCamera) return this.rig.unitsPerPixel(bounds, this.width, this.height);
    const { inDepth, level } = this.eyes;
    if (this.camera === level) return (level.top - level.bottom) / this.height;
    const far = inDepth.position.distanceTo(this.p.set(...bounds.centre));
    return (2 * far * Math.tan((inDepth.fov * Math.PI) / 360)) / this.height;
  }

  /** Changes whenever what was projected falls elsewhere: the view was turned, moved or zoomed, the paper resized, or it rides along. */
  get viewKey(): number {
    return this.seen;
  }

  private readonly onRestored = (): void => this.draw();

  /** Draws before the next picture is shown, however often it is asked for. */
  draw(): void {
    if (this.queued) return;
    this.queued = requestAnimationFrame(() => this.drawNow());
    // A browser that is busy elsewhere may leave a frame out: then it is drawn without one.
    this.late = setTimeout(() => this.drawNow(), LATE_MS);
  }

  /** Where a joint at a sample falls on the paper. Riding, every sample is seen as if what is ridden on stayed where it is now. */
  project(sample: number, joint: number, out: PaperPoint): PaperPoint {
    this.placed(sample, joint, this.p);
    return this.onPaper(sample, out);
  }

  /** Where a place of the file's own axes and units falls on the paper, as it is at a sample. */
  projectWorld(sample: number, x: number, y: number, z: number, out: PaperPoint): PaperPoint {
    this.figure!.fromFile(x, y, z, this.p).add(this.gone(sample, this.slide));
    return this.onPaper(sample, out);
  }

  /** Where a place of the figure's space falls on the paper, as it is at a sample. */
  projectPlace(sample: number, x: number, y: number, z: number, out: PaperPoint): PaperPoint {
    this.p.set(x, y, z).add(this.gone(sample, this.slide));
    return this.onPaper(sample, out);
  }

  /** The place in the file's axes and units that lies under a point of the paper, as deep as `depth` (−1 near, 1 far). */
  placeUnder(x: number, y: number, depth: number): [number, number, number] {
    this.p.set((2 * x) / this.width - 1, 1 - (2 * y) / this.height, depth).unproject(this.camera);
    this.p.sub(this.gone(this.sample, this.slide));
    return this.figure!.toFile(this.p);
  }

  middle(): { x: number; y: number } {
    const [x, y, z] = this.bounds.centre;
    this.p.set(x, y, z).project(this.camera);
    return { x: ((this.p.x + 1) / 2) * this.width, y: ((1 - this.p.y) / 2) * this.height };
  }

  projectDrawn(sample: number, x: number, y: number, z: number, out: PaperPoint): PaperPoint {
    return this.projectWorld(sample, x, y, z, out);
  }

  drawnUnder(x: number, y: number, depth: number): [number, number, number] {
    return this.placeUnder(x, y, depth);
  }

  private onPaper(sample: number, out: PaperPoint): PaperPoint {
    if (this.ride >= 0 && sample !== this.sample && !this.ownCamera)
      this.p.sub(this.placed(sample, this.ride, this.then)).add(this.placed(this.sample, this.ride, this.then));
    this.p.project(this.camera);
    out.x = ((this.p.x + 1) / 2) * this.width;
    out.y = ((1 - this.p.y) / 2) * this.height;
    out.depth = this.p.z;
    return out;
  }

  /** The joint at a place on the paper: that of the limb there, or else the nearest within `reach` pixels. */
  pointAt(x: number, y: number, reach = 22): number | undefined {
    const figure = this.figure;
    if (!figure) return undefined;
    const ray = new Raycaster();
    ray.setFromCamera(new Vector2((2 * x) / this.width - 1, 1 - (2 * y) / this.height), this.camera);
    const hit = figure.jointHit(ray, this.sample, this.gone(this.sample, this.slide));
    if (hit !== undefined) return hit;
    const out: PaperPoint = { x: 0, y: 0, depth: 0 };
    let best: number | undefined;
    let least = reach;
    figure.shot.motion.joints.forEach((_, j) => {
      this.project(this.sample, j, out);
      const distance = Math.hypot(out.x - x, out.y - y);
      if (distance < least) {
        least = distance;
        best = j;
      }
    });
    return best;
  }

  ghost(frame: LensFrame, sample: number): void {
    strokeSample(frame, sample);
  }

  dispose(): void {
    cancelAnimationFrame(this.queued);
    clearTimeout(this.late);
    this.canvas.removeEventListener('webglcontextrestored', this.onRestored);
    this.figure?.dispose();
    this.floor.geometry.dispose();
    this.floor.material.dispose();
    this.floorEdge.geometry.dispose();
    this.inks.dispose();
    this.renderer?.dispose();
  }

  private drawNow(): void {
    cancelAnimationFrame(this.queued);
    clearTimeout(this.late);
    this.queued = 0;
    const figure = this.figure;
    const bounds = this.bounds;
    if (figure) {
      figure.pose(this.sample);
      this.gone(this.sample, figure.group.position);
      [this.target[0], this.target[1], this.target[2]] = bounds.centre;
      if (this.ride >= 0) {
        this.placed(this.sample, this.ride, this.p);
        this.target[0] = this.p.x;
        this.target[2] = this.p.z;
        // Up and down belongs to the motion; only a figure that climbs or falls away is followed.
        if (bounds.height > 3.2) this.target[1] = this.p.y;
      }
      this.placeShadows(figure);
    }
    const own = this.rig.view === 'shot' ? figure?.seenBy(this.sample, this.eyes, this.width / this.height) : undefined;
    this.ownCamera = own !== undefined;
    this.camera = own ?? this.eyes.level;
    if (!own) this.rig.apply(this.eyes.level, bounds, this.target, this.width, this.height);
    this.inks.scale(OUTLINE_PIXELS * this.unitAt(bounds), this.renderer?.getPixelRatio() ?? 1);
    this.noteCamera();
    // Flat ground has no ends, wherever the view goes: a line seen level, a floor seen from above. Steps stay where they are.
    const above = !figure?.ground && (this.ownCamera || Math.abs(this.rig.tilt) >= LEVEL);
    this.floor.visible = this.floorEdge.visible = above;
    this.ground.visible = !above;
    for (const sheet of [this.floor, this.floorEdge]) sheet.position.set(this.target[0], -0.02, this.target[2]);
    if (figure?.ground) this.ground.position.set(0, 0, 0);
    else this.ground.position.set(this.target[0], 0, this.target[2]);
    this.renderer?.render(this.scene, this.camera);
    this.drawn();
  }

  private noteCamera(): void {
    const { matrixWorld, projectionMatrix } = this.camera;
    let moved = this.lastCamera[32] !== this.ride;
    for (let k = 0; k < 16; k++) {
      moved ||=
        this.lastCamera[k] !== matrixWorld.elements[k] || this.lastCamera[16 + k] !== projectionMatrix.elements[k];
      this.lastCamera[k] = matrixWorld.elements[k]!;
      this.lastCamera[16 + k] = projectionMatrix.elements[k]!;
    }
    this.lastCamera[32] = this.ride;
    if (moved) this.seen++;
  }

  private placeShadows(figure: Figure): void {
    const places = figure.footPlaces(this.sample);
    places.forEach(({ x, y, z }, k) => {
      const shadow = (this.shadows[k] ??= this.makeShadow());
      // The higher the foot, the fainter and wider what lies under it.
      const { position } = figure.group;
      const ground = figure.groundUnder(x, z);
      const lift = Math.min(1, Math.max(0, (y - ground - 0.08) / 0.3));
      shadow.position.set(x + position.x, ground - 0.012, z + 0.05 + position.z);
      shadow.scale.set(0.1 * (1 + 0.5 * lift), 0.009, 0.17 * (1 + 0.5 * lift));
      (shadow.material as MeshBasicMaterial).opacity = 0.26 * (1 - lift);
    });
  }

  private makeShadow(): Mesh {
    const mesh = new Mesh(new SphereGeometry(1, 24, 12), this.shadowInk.clone());
    mesh.material.color = this.shadowInk.color;
    mesh.renderOrder = -1;
    this.scene.add(mesh);
    return mesh;
  }

  /** Draws the ground anew from the ends of its lines, in pairs. */
  private buildGround(ends: readonly Vector3[]): void {
    for (const old of this.ground.children) (old as LineSegments).geometry.dispose();
    this.ground.clear();
    const lines = new LineSegments(new BufferGeometry().setFromPoints([...ends]), this.groundInk);
    lines.position.y = -0.004;
    this.ground.add(lines);
  }
}
