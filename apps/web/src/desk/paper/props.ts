import { BufferAttribute, BufferGeometry, type Group, type Matrix4, Mesh, type Quaternion } from 'three';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import type { Inks } from './inks.ts';

/** Things beside the figure, filled and outlined as it is: what hands hold, and what stands in the way. */
export class Props {
  private readonly drawn: { readonly prop: number; readonly meshes: readonly Mesh[] }[] = [];

  /** @param toFigure from the file's space into the figure's, and @param turn the turn in it */
  constructor(
    private readonly shot: PreparedShot,
    private readonly group: Group,
    private readonly toFigure: Matrix4,
    private readonly turn: Quaternion,
    inks: Inks,
  ) {
    (shot.played.motion.props ?? []).forEach(({ shape, half }, k) => {
      // What is many times as large as the figure is the room it is in.
      if (!shape || Math.max(...half) > ROOM * shot.scale.legLength) return;
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', new BufferAttribute(shape.positions, 3));
      geometry.setIndex(new BufferAttribute(shape.triangles, 1));
      geometry.computeVertexNormals();
      const meshes = [inks.fills.prop, inks.outline].map((ink) => new Mesh(geometry, ink));
      for (const mesh of meshes) {
        mesh.scale.setScalar(1 / shot.scale.legLength);
        group.add(mesh);
      }
      this.drawn.push({ prop: k, meshes });
    });
  }

  /** Puts them where they are at a sample; where there are other samples than the file has, they stay where they were. */
  pose(sample: number): void {
    const { motion } = this.shot.played;
    if (this.shot.motion.frames !== motion.frames) return;
    for (const { prop, meshes } of this.drawn) {
      const { positions, rotations } = motion.props![prop]!;
      for (const mesh of meshes) {
        mesh.position.fromArray(positions, 3 * sample).applyMatrix4(this.toFigure);
        mesh.quaternion.fromArray(rotations, 4 * sample).premultiply(this.turn);
      }
    }
  }

  dispose(): void {
    for (const { meshes } of this.drawn) {
      for (const mesh of meshes) this.group.remove(mesh);
      meshes[0]!.geometry.dispose();
    }
  }
}

/** Half a side of a thing that is a room, leg lengths. */
const ROOM = 6;
