import { type Blend, transferShader } from '@/core/colour/transfer';

/** Rectangles of the target, in its pixels, two corners to a triangle. */
export const vertexShader = `#version 300 es
in vec2 corner;
uniform vec2 targetSize;
uniform bool flipped;
out vec2 pixel;
void main() {
  pixel = corner;
  vec2 place = corner / targetSize * 2.0 - 1.0;
  gl_Position = vec4(place.x, flipped ? place.y : -place.y, 0.0, 1.0);
}`;

/** How a part of a layer is drawn: each way is a program of its own, as every instruction a pixel costs. */
export interface LayerVariant {
  /** Reads the matte; else nothing is cut here. */
  matte: boolean;
  /** White where the matte cuts, in place of the picture. */
  paintMatte: boolean;
  /** Samples along each side of a pixel. */
  taps: number;
  /** Leaves out what lies outside the shot. */
  bounded: boolean;
  /** Mixed over what is below by `opacity`. */
  mixed: boolean;
  /** As its own negative. */
  negative: boolean;
  /** Whether it is drawn as light, to be mixed as such. */
  blend: Blend;
  /** Takes a keyed colour out of it. */
  spill: boolean;
}

/** A layer, sampled as core/compose/picture.ts samples it: the two are held to one code value. */
export function layerShader({
  matte,
  paintMatte,
  taps,
  bounded,
  mixed,
  negative,
  blend,
  spill,
}: LayerVariant): string {
  const cut = matte ? 'texture(mattePlane, matteMap * vec3(pixel, 1.0)).r' : '1.0';
  const alpha = `${matte ? `(1.0 - ${cut})` : '1.0'}${mixed ? ' * opacity' : ''}`;
  const sample = (at: string) =>
    `vec3(texture(lumaPlane, lumaMap * vec3(${at}, 1.0)).r, texture(chromaPlane, chromaMap * vec3(${at}, 1.0)).rg)`;
  const samples = Array.from({ length: taps * taps }, (_, k) => {
    const [x, y] = [k % taps, Math.floor(k / taps)].map((i) => ((i + 0.5) / taps - 0.5).toFixed(6));
    return sample(`pixel + vec2(${x}, ${y})`);
  });
  const yuv = taps === 1 ? sample('pixel') : `(${samples.join(' + ')}) / ${(taps * taps).toFixed(1)}`;
  const value = negative ? '1.0 - clamp(rgb, 0.0, 1.0)' : 'rgb';
  const shown = blend === 'display' ? value : `toLight(clamp(${value}, 0.0, 1.0))`;
  return `#version 300 es
precision highp float;
in vec2 pixel;
uniform sampler2D lumaPlane, chromaPlane, mattePlane;
uniform mat3x2 lumaMap, chromaMap, matteMap, shotMap;
uniform float opacity;
uniform mat3 fromYuv;
uniform vec3 base, spill;
out vec4 colour;
${blend === 'display' ? '' : transferShader(blend)}
void main() {
  ${bounded ? 'vec2 at = shotMap * vec3(pixel, 1.0); if (at.x < 0.0 || at.y < 0.0 || at.x > 1.0 || at.y > 1.0) discard;' : ''}
  ${paintMatte ? `colour = vec4(1.0, 1.0, 1.0, ${cut});` : `vec3 yuv = ${yuv};${spill ? ' yuv.yz -= max(0.0, dot(yuv.yz - 128.0 / 255.0, spill.xy)) * spill.z * spill.xy;' : ''} vec3 rgb = fromYuv * yuv + base; colour = vec4(${shown}, ${alpha});`}
}`;
}

export const checkerShader = `#version 300 es
precision highp float;
in vec2 pixel;
uniform float side, light, dark;
out vec4 colour;
void main() {
  vec2 square = floor(pixel / side);
  float value = mod(square.x + square.y, 2.0) == 1.0 ? dark : light;
  colour = vec4(vec3(value / 255.0), 1.0);
}`;

/** A picture that was drawn as light, brought back to display values pixel by pixel. */
export function displayShader(blend: Exclude<Blend, 'display'>): string {
  return `#version 300 es
precision highp float;
in vec2 pixel;
uniform highp sampler2D light;
out vec4 colour;
${transferShader(blend)}
void main() {
  colour = vec4(fromLight(clamp(texelFetch(light, ivec2(gl_FragCoord.xy), 0).rgb, 0.0, 1.0)), 1.0);
}`;
}
