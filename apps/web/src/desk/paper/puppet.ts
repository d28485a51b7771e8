import {
  CanvasTexture,
  DoubleSide,
  type Group,
  type Matrix4,
  Mesh,
  MeshBasicMaterial,
  PlaneGeometry,
  SRGBColorSpace,
} from 'three';
import type { AnimationConfigWithData, AnimationItem } from 'lottie-web';
import type { DrawnPuppet } from '@ypsigraph/core/motion/motion';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';

/** Pixels of the longer side of the picture that is drawn. */
const PIXELS = 1600;

type CanvasPlayerOptions = AnimationConfigWithData<'canvas'>;

/**
 * The student's own puppet: drawn by a player on a picture, which stands where its layers' anchors are measured. The player is fetched when the first
 * puppet is looked at.
 */
export class Puppet {
  private readonly mesh: Mesh<PlaneGeometry, MeshBasicMaterial>;
  private readonly texture: CanvasTexture;
  private readonly canvas = document.createElement('canvas');
  private player: AnimationItem | undefined;
  private shown = 0;
  private isGone = false;
  /** It could not be drawn: the plain figure is shown in its place. */
  isBroken = false;

  /**
   * @param group the figure's own, in whose space it is drawn
   * @param toFigure from the motion's axes and units into that space
   * @param changed is told when its picture has come, or never will
   */
  constructor(
    private readonly shot: PreparedShot,
    private readonly drawn: DrawnPuppet,
    private readonly group: Group,
    toFigure: Matrix4,
    private readonly changed: () => void,
  ) {
    const { width, height, bottom } = drawn;
    const share = PIXELS / Math.max(width, height);
    this.canvas.width = Math.max(1, Math.round(width * share));
    this.canvas.height = Math.max(1, Math.round(height * share));
    this.texture = new CanvasTexture(this.canvas);
    this.texture.colorSpace = SRGBColorSpace;
    const plane = new PlaneGeometry(width, height).translate(width / 2, bottom + height / 2, 0).applyMatrix4(toFigure);
    this.mesh = new Mesh(
      plane,
      new MeshBasicMaterial({ map: this.texture, transparent: true, side: DoubleSide, depthWrite: false }),
    );
    // Behind everything that is measured on it.
    this.mesh.renderOrder = -1;
    group.add(this.mesh);
    void this.fetchPlayer().catch(() => this.breakOff());
  }

  private async fetchPlayer(): Promise<void> {
    const { default: players } = await import('lottie-web/build/player/lottie_light_canvas.js');
    if (this.isGone) return;
    this.player = players.loadAnimation({
      renderer: 'canvas',
      loop: false,
      autoplay: false,
      // It writes into what it is given.
      animationData: structuredClone(this.drawn.document),
      // On a canvas of our own it wants no container.
      rendererSettings: { context: this.canvas.getContext('2d')!, clearCanvas: true },
    } as CanvasPlayerOptions);
    this.pose(this.shown);
    this.changed();
  }

  /** Draws the picture of a sample. */
  pose(sample: number): void {
    this.shown = sample;
    if (!this.player) return;
    // What was left out in front has no sample.
    const front = this.drawn.frames - this.shot.played.motion.frames;
    // What a document says of paint is not checked before: the player may stumble over it.
    try {
      this.player.goToAndStop(sample + Math.max(0, front), true);
    } catch {
      return this.breakOff();
    }
    this.texture.needsUpdate = true;
  }

  private breakOff(): void {
    if (this.isGone || this.isBroken) return;
    this.isBroken = true;
    this.changed();
  }

  /** A picture shows all its parts. */
  hideParts(): void {
    return;
  }

  set visible(seen: boolean) {
    this.mesh.visible = seen;
  }

  dispose(): void {
    this.isGone = true;
    this.player?.destroy();
    this.group.remove(this.mesh);
    this.mesh.geometry.dispose();
    this.mesh.material.dispose();
    this.texture.dispose();
  }
}
