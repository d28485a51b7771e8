import { BackSide, Color, DoubleSide, FrontSide, ShaderMaterial, type Texture } from 'three';
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

/** How a piece of a shape looks by its own file. */
export interface Paint {
  readonly colour: Color;
  /** A picture over it; its vertices have places on it. */
  readonly picture?: Texture;
  /** Where the picture lets through more than this, nothing is drawn. */
  readonly cutOut?: number;
  readonly isTwoSided: boolean;
}

/** Of a shape that joints carry, its place and its normal are where blend shapes and joints bring them. */
const CARRIED = /* glsl */ `
    #include <skinbase_vertex>
    #include <beginnormal_vertex>
    #include <morphnormal_vertex>
    #include <skinnormal_vertex>
    #include <begin_vertex>
    #include <morphtarget_vertex>
    #include <skinning_vertex>
`;

const VERTEX = /* glsl */ `
  #include <morphtarget_pars_vertex>
  #include <skinning_pars_vertex>
  varying vec3 vNormal;
  #ifdef PICTURE
    varying vec2 vPlace;
  #endif
  void main() {
    ${CARRIED}
    #ifdef PICTURE
      vPlace = uv;
    #endif
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
  uniform vec3 own;
  uniform float painted;
  uniform float cutOut;
  varying vec3 vNormal;
  #ifdef PICTURE
    uniform sampler2D picture;
    varying vec2 vPlace;
  #endif
  void main() {
    vec3 look = own;
    #ifdef PICTURE
      vec4 seen = texture2D(picture, vPlace);
      if (seen.a < cutOut) discard;
      look *= seen.rgb;
    #endif
    // The character's own colours, tinted as its side is: which side it is must be seen before what it wears.
    vec3 body = mix(colour, look, painted);
    vec3 outward = gl_FrontFacing ? vNormal : -vNormal;
    float turn = smoothstep(0.02, 0.1, dot(normalize(outward), normalize(vec3(-0.45, 0.65, 0.6))));
    vec3 solid = mix(mix(body, ink, 0.22), mix(body, ground, 0.08), turn);
    float stroke = fract((gl_FragCoord.x + gl_FragCoord.y) / (6.0 * pixel));
    float on = smoothstep(0.0, 0.12, stroke) * (1.0 - smoothstep(0.58, 0.7, stroke));
    vec3 strokes = mix(mix(body, ground, 0.7), solid, on);
    vec3 filled = mix(solid, strokes, hatched);
    float edge = rim * (1.0 - smoothstep(0.14, 0.3, abs(normalize(vNormal).z)));
    gl_FragColor = vec4(mix(filled, ink, edge), 1.0);
    #include <colorspace_fragment>
  }
`;

const OUTLINE_VERTEX = /* glsl */ `
  #include <morphtarget_pars_vertex>
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

/** How much of a character's own colours shows beside the colour of its side. */
const PAINTED: Readonly<Record<Side, number>> = { centre: 1, left: 0.55, right: 0.55, prop: 1 };

/** Materials of one figure: a fill a side, those of what is painted, and the outline that all limbs share. */
export class Inks {
  readonly fills: Record<Side, ShaderMaterial>;
  readonly outline: ShaderMaterial;
  private last: { readonly palette: Palette; readonly silhouette: boolean } | undefined;
  private all: { readonly side: Side; readonly material: ShaderMaterial; readonly isPainted: boolean }[] = [];

  constructor() {
    this.fills = this.filled();
    this.outline = new ShaderMaterial({
      vertexShader: OUTLINE_VERTEX,
      fragmentShader: OUTLINE,
      side: BackSide,
      uniforms: { colour: { value: new Color() }, thickness: { value: 0.01 } },
    });
  }

  /** Fills of what has a look of its own, one a side; `release` them with what wears them. */
  painted(paint: Paint): Record<Side, ShaderMaterial> {
    const fills = this.filled(paint);
    if (this.last) this.colour(this.last.palette, this.last.silhouette);
    return fills;
  }

  release(fills: Record<Side, ShaderMaterial>): void {
    const own = new Set(Object.values(fills));
    this.all = this.all.filter(({ material }) => !own.has(material));
    for (const material of own) material.dispose();
  }

  private filled(paint?: Paint): Record<Side, ShaderMaterial> {
    const fill = (side: Side): ShaderMaterial => {
      const material = new ShaderMaterial({
        vertexShader: VERTEX,
        fragmentShader: FILL,
        side: paint?.isTwoSided ? DoubleSide : FrontSide,
        defines: paint?.picture ? { PICTURE: '' } : {},
        uniforms: {
          colour: { value: new Color() },
          ground: { value: new Color() },
          ink: { value: new Color() },
          hatched: { value: 0 },
          pixel: { value: 1 },
          // Drawn where the form turns away, in place of an outline of its own.
          rim: { value: 0 },
          own: { value: paint?.colour ?? new Color() },
          painted: { value: 0 },
          cutOut: { value: paint?.cutOut ?? 0 },
          ...(paint?.picture && { picture: { value: paint.picture } }),
        },
      });
      this.all.push({ side, material, isPainted: paint !== undefined });
      return material;
    };
    return { left: fill('left'), right: fill('right'), centre: fill('centre'), prop: fill('prop') };
  }

  /** @param silhouette all in ink, to judge the pose by its outline alone */
  colour(palette: Palette, silhouette: boolean): void {
    this.last = { palette, silhouette };
    for (const { side, material, isPainted } of this.all) {
      const { uniforms } = material;
      (uniforms.colour!.value as Color).copy(silhouette ? palette.ink : palette[side]);
      (uniforms.ground!.value as Color).copy(silhouette ? palette.ink : palette.sheet);
      (uniforms.ink!.value as Color).copy(palette.ink);
      uniforms.hatched!.value = side === 'right' && !silhouette ? 1 : 0;
      uniforms.painted!.value = isPainted && !silhouette ? PAINTED[side] : 0;
    }
    (this.outline.uniforms.colour!.value as Color).copy(palette.ink);
  }

  /** @param thickness of the outline in leg lengths; @param pixel device pixels a CSS pixel */
  scale(thickness: number, pixel: number): void {
    this.outline.uniforms.thickness!.value = thickness;
    for (const { material } of this.all) material.uniforms.pixel!.value = pixel;
  }

  /** Draws the outline within the fill, where a second body for it would be too much. */
  rimmed(wanted: boolean): void {
    for (const { material } of this.all) material.uniforms.rim!.value = Number(wanted);
  }

  dispose(): void {
    for (const { material } of this.all) material.dispose();
    this.outline.dispose();
  }
}
