import { OrthographicCamera, Vector3 } from 'three';
import { Listeners } from '../../kit/listeners.ts';

/** `shot`: through the shot's own camera. */
export type View = FixedView | 'free' | 'shot';
export type FixedView = 'side' | 'front' | 'above' | 'three-quarter';

/** Turn about up and tilt of each fixed view, degrees. A turn of 0 looks at the figure's front; 90 sees it walk to the right. */
const VIEWS: Record<FixedView, { turn: number; tilt: number }> = {
  side: { turn: 90, tilt: 0 },
  front: { turn: 0, tilt: 0 },
  above: { turn: 90, tilt: 89.9 },
  'three-quarter': { turn: 48, tilt: 14 },
};

/** The box that a motion takes up, in leg lengths, Y up. */
export interface Bounds {
  readonly centre: readonly [number, number, number];
  readonly height: number;
  readonly width: number;
}

/** One view for all papers on the desk: two revisions are always seen from the same place. */
export class ViewRig {
  view: View = 'side';
  turn = VIEWS.side.turn;
  tilt = VIEWS.side.tilt;
  zoom = 1;
  /** Shift of the picture, in leg lengths across and up. */
  panX = 0;
  panY = 0;
  private readonly listeners = new Listeners();
  readonly subscribe = this.listeners.subscribe;

  look(view: View): void {
    this.view = view;
    if (view !== 'free' && view !== 'shot') Object.assign(this, VIEWS[view], { zoom: 1, panX: 0, panY: 0 });
    this.changed();
  }

  /** Turns the view by hand; it is then free. */
  orbit(turn: number, tilt: number): void {
    this.view = 'free';
    this.turn += turn;
    this.tilt = Math.min(89.9, Math.max(-30, this.tilt + tilt));
    this.changed();
  }

  pan(x: number, y: number): void {
    this.panX += x;
    this.panY += y;
    this.changed();
  }

  zoomBy(factor: number): void {
    this.zoom = Math.min(12, Math.max(0.3, this.zoom * factor));
    this.changed();
  }

  /** Leg lengths a pixel covers. */
  unitsPerPixel(bounds: Bounds, width: number, height: number): number {
    return Math.max((bounds.height * 1.16) / height, (bounds.width * 1.1) / width) / this.zoom;
  }

  /** Sets a camera so that it sees `bounds` around `target` on a paper of so many pixels. */
  apply(
    camera: OrthographicCamera,
    bounds: Bounds,
    target: readonly [number, number, number],
    width: number,
    height: number,
  ): void {
    const unit = this.unitsPerPixel(bounds, width, height);
    const turn = (this.turn * Math.PI) / 180;
    const tilt = (this.tilt * Math.PI) / 180;
    const direction = new Vector3(Math.sin(-turn) * Math.cos(tilt), Math.sin(tilt), Math.cos(turn) * Math.cos(tilt));
    const centre = new Vector3(...target);
    camera.up.set(0, 1, 0);
    camera.position.copy(centre).addScaledVector(direction, 40);
    camera.lookAt(centre);
    camera.left = -(width / 2) * unit - this.panX;
    camera.right = (width / 2) * unit - this.panX;
    camera.top = (height / 2) * unit - this.panY;
    camera.bottom = -(height / 2) * unit - this.panY;
    camera.near = 0.1;
    camera.far = 90;
    camera.updateProjectionMatrix();
    camera.updateMatrixWorld();
  }

  private changed(): void {
    this.listeners.tell();
  }
}
