import { BackSide, Color, ShaderMaterial } from 'three';
import type { Side } from './limb-shapes.ts';

/** Colours of the drawing, read from the page's own tokens. */
export interface Palette {
  readonly ink: Color;
  readonly left: Color;
  readonly right: Color;
  readonly centre: Color;
  readonly prop: Color;
  readonly sheet: Color;
  readonly graphite: Color;
  readonly wash: Color;
}

export function readPalette(element: Element): Palette {
  const style = getComputedStyle(element);
  const token = (name: string): Color => new Color(style.getPropertyValue(name).trim());
  return {
    ink: token('--ink'),
    left: token('--left'),
    right: token('--right'),
    centre: token('--centre-fill'),
    prop: token('--prop-fill'),
    sheet: token('--sheet'),
    graphite: token('--graphite'),
    wash: token('--wash'),
  };
}

/** Of a shape that joints carry, its place and its normal are where they carry them. */
const CARRIED = /* glsl */ `
    #include <skinbase_vertex>
    #include <beginnormal_vertex>
    #include <skinnormal_vertex>
    #include <begin_vertex>
    #include <skinning_vertex>
`;

const VERTEX = /* glsl */ `
  #include <skinning_pars_vertex>
  varying vec3 vNormal;
  void main() {
    ${CARRIED}
    vNormal = normalize(normalMatrix * objectNormal);
    gl_Position = projectionMatrix * modelViewMatrix * vec4(transformed, 1.0);
  }
`;

/** Flat colour with one darker tone where the form turns away from the light; the right side's is drawn in slanting strokes, so that it differs without colour. */
const FILL = /* glsl */ `
  uniform vec3 colour;
  uniform vec3 ground;
  uniform vec3 ink;
  uniform float hatched;
  uniform float rim;
  uniform float pixel;
  varying vec3 vNormal;
  void main() {
    float turn = smoothstep(0.02, 0.1, dot(normalize(vNormal), normalize(vec3(-0.45, 0.65, 0.6))));
    vec3 solid = mix(mix(colour, ink, 0.22), mix(colour, ground, 0.08), turn);
    float stroke = fract((gl_FragCoord.x + gl_FragCoord.y) / (6.0 * pixel));
    float on = smoothstep(0.0, 0.12, stroke) * (1.0 - smoothstep(0.58, 0.7, stroke));
    vec3 strokes = mix(mix(colour, ground, 0.7), solid, on);
    vec3 filled = mix(solid, strokes, hatched);
    float edge = rim * (1.0 - smoothstep(0.14, 0.3, abs(normalize(vNormal).z)));
    gl_FragColor = vec4(mix(filled, ink, edge), 1.0);
    #include <colorspace_fragment>
  }
`;

const OUTLINE_VERTEX = /* glsl */ `
  #include <skinning_pars_vertex>
  uniform float thickness;
  void main() {
    ${CARRIED}
    vec4 view = modelViewMatrix * vec4(transformed, 1.0);
    view.xyz += normalize(normalMatrix * objectNormal) * thickness;
    gl_Position = projectionMatrix * view;
  }
`;

const OUTLINE = /* glsl */ `
  uniform vec3 colour;
  void main() {
    gl_FragColor = vec4(colour, 1.0);
    #include <colorspace_fragment>
  }
`;

/** Materials of one figure: a fill a side, and the outline that all limbs share. */
export class Inks {
  readonly fills: Record<Side, ShaderMaterial>;
  readonly outline: ShaderMaterial;

  constructor() {
    const fill = (hatched: boolean): ShaderMaterial =>
      new ShaderMaterial({
        vertexShader: VERTEX,
        fragmentShader: FILL,
        uniforms: {
          colour: { value: new Color() },
          ground: { value: new Color() },
          ink: { value: new Color() },
          hatched: { value: hatched ? 1 : 0 },
          pixel: { value: 1 },
          // Drawn where the form turns away, in place of an outline of its own.
          rim: { value: 0 },
        },
      });
    this.fills = { left: fill(false), right: fill(true), centre: fill(false), prop: fill(false) };
    this.outline = new ShaderMaterial({
      vertexShader: OUTLINE_VERTEX,
      fragmentShader: OUTLINE,
      side: BackSide,
      uniforms: { colour: { value: new Color() }, thickness: { value: 0.01 } },
    });
  }

  /** @param silhouette all in ink, to judge the pose by its outline alone */
  colour(palette: Palette, silhouette: boolean): void {
    for (const side of ['left', 'right', 'centre', 'prop'] as const) {
      const { uniforms } = this.fills[side];
      (uniforms.colour!.value as Color).copy(silhouette ? palette.ink : palette[side]);
      (uniforms.ground!.value as Color).copy(silhouette ? palette.ink : palette.sheet);
      (uniforms.ink!.value as Color).copy(palette.ink);
      uniforms.hatched!.value = side === 'right' && !silhouette ? 1 : 0;
    }
    (this.outline.uniforms.colour!.value as Color).copy(palette.ink);
  }

  /** @param thickness of the outline in leg lengths; @param pixel device pixels a CSS pixel */
  scale(thickness: number, pixel: number): void {
    this.outline.uniforms.thickness!.value = thickness;
    for (const material of Object.values(this.fills)) material.uniforms.pixel!.value = pixel;
  }

  /** Draws the outline within the fill, where a second body for it would be too much. */
  rimmed(wanted: boolean): void {
    for (const material of Object.values(this.fills)) material.uniforms.rim!.value = Number(wanted);
  }

  dispose(): void {
    for (const material of [...Object.values(this.fills), this.outline]) material.dispose();
  }
}
