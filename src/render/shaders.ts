import { gradeCurve, gradeShader } from '@/core/colour/grade';
import { transferShader } from '@/core/colour/transfer';
import type { Blend } from '@/core/model/choices';
import { lensShader } from '@/core/geometry/lens';

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

/** The same for a layer's parts: places in its planes are worked out at the corners where the way there is affine. */
export const layerVertexShader = `#version 300 es
in vec2 corner;
uniform vec2 targetSize;
uniform bool flipped;
uniform mat3x2 lumaMap, chromaMap, shareMap;
out vec2 pixel, lumaPlace, chromaPlace, share;
void main() {
  pixel = corner;
  vec3 from = vec3(corner, 1.0);
  lumaPlace = lumaMap * from;
  chromaPlace = chromaMap * from;
  share = shareMap * from;
  vec2 place = corner / targetSize * 2.0 - 1.0;
  gl_Position = vec4(place.x, flipped ? place.y : -place.y, 0.0, 1.0);
}`;

/** How a part of a layer is drawn: each way is a program of its own, as every instruction a pixel costs. */
export interface LayerVariant {
  /** Reads the matte; else nothing is cut here. */
  matte: boolean;
  /** White where the matte cuts, in place of the picture. */
  paintMatte: boolean;
  /** Samples along each side of a pixel; of a blur they are spread over its samples. */
  taps: number;
  /** The way from its pixels to its planes is affine and one for all of it. */
  direct: boolean;
  /** Where the shot is bent or blurred its map is projective. */
  projective: boolean;
  /** What the lens bends is undone. */
  lens: boolean;
  /** The mean of many samples along its movement. */
  blurred: boolean;
  /** Reads luma with a sharp kernel. */
  sharp: boolean;
  /** Leaves out what lies outside the shot, or where it is blurred beyond what is seen. */
  bounded: boolean;
  /** Mirrors it at its borders. */
  mirrored: boolean;
  /** Mixed over what is below by `opacity`. */
  mixed: boolean;
  /** In one colour, in place of the picture. */
  plain: boolean;
  /** As its own negative. */
  negative: boolean;
  /** Whether it is drawn as light, to be mixed as such. */
  blend: Blend;
  /** Takes a keyed colour out of it. */
  spill: boolean;
  /** Changes its colours. */
  graded: boolean;
}

/** Luma by the cubic of Catmull and Rom, as core/picture/planes.ts reads it. */
const sharpLuma = `
vec4 cubic(float t) {
  return 0.5 * vec4(((2.0 - t) * t - 1.0) * t, (3.0 * t - 5.0) * t * t + 2.0, ((4.0 - 3.0 * t) * t + 1.0) * t, (t - 1.0) * t * t);
}
float lumaAt(vec2 place) {
  ivec2 most = textureSize(lumaPlane, 0) - 1;
  vec2 at = place * vec2(most + 1) - 0.5;
  ivec2 first = ivec2(floor(at)) - 1;
  vec4 across = cubic(fract(at.x)), down = cubic(fract(at.y));
  float sum = 0.0;
  for (int j = 0; j < 4; j++) {
    vec4 row;
    for (int i = 0; i < 4; i++) row[i] = texelFetch(lumaPlane, clamp(first + ivec2(i, j), ivec2(0), most), 0).r;
    sum += down[j] * dot(across, row);
  }
  return sum;
}`;

/**
 * A layer, sampled as core/compose/picture.ts samples it: the two are held to one code value. Colours come out
 * multiplied by alpha.
 */
export function layerShader(variant: LayerVariant): string {
  const {
    matte,
    paintMatte,
    taps,
    direct,
    projective,
    lens,
    blurred,
    sharp,
    bounded,
    mirrored,
    mixed,
    plain,
    negative,
    blend,
    spill,
    graded,
  } = variant;
  const cut = matte ? 'texture(mattePlane, at).r' : paintMatte ? '1.0' : '0.0';
  const alpha = paintMatte ? cut : `(1.0 - ${cut})${mixed ? ' * opacity' : ''}`;
  const read = (luma: string, chroma: string) => `vec3(lumaAt(${luma}), texture(chromaPlane, ${chroma}).rg)`;
  const sample = (at: string) => read(`lumaMap * vec3(${at}, 1.0)`, `chromaMap * vec3(${at}, 1.0)`);
  const samples = Array.from({ length: taps * taps }, (_, k) => {
    const [x, y] = [k % taps, Math.floor(k / taps)].map((i) => ((i + 0.5) / taps - 0.5).toFixed(6));
    const by = `vec2(${x}, ${y})`;
    return direct
      ? read(`lumaPlace + mat2(lumaMap) * ${by}`, `chromaPlace + mat2(chromaMap) * ${by}`)
      : sample(`placed(map, pixel + ${by})`);
  });
  const middle = direct ? read('lumaPlace', 'chromaPlace') : sample('at');
  const yuv = taps === 1 || blurred ? middle : `(${samples.join(' + ')}) / ${(taps * taps).toFixed(1)}`;
  const curve = graded ? gradeCurve(blend) : blend;
  const value = `clamp(base + vec3(
    fromLuma * yuv.x + fromChroma.x * yuv.z,
    fromLuma * yuv.x + dot(fromChroma.yz, yuv.yz),
    fromLuma * yuv.x + fromChroma.w * yuv.y), 0.0, 1.0)`;
  const shown = negative ? `1.0 - ${value}` : value;
  const light = curve === 'display' ? shown : `toLight(${shown})`;
  const after = graded ? `graded(${light})` : light;
  const colour = graded && blend === 'display' ? `fromLight(${after})` : after;
  const outside = blurred
    ? 'any(lessThan(at, inside.xy)) || any(greaterThan(at, inside.zw))'
    : 'at.x < 0.0 || at.y < 0.0 || at.x > 1.0 || at.y > 1.0';
  const look = `
  ${paintMatte ? 'vec3 seen = vec3(1.0);' : plain ? 'vec3 seen = plainColour;' : `vec3 yuv = ${yuv};${spill ? ' yuv.yz -= max(0.0, dot(yuv.yz - 128.0 / 255.0, spill.xy)) * spill.z * spill.xy;' : ''} vec3 seen = ${colour};`}
  float alpha = ${alpha};`;
  const cell = `(vec2(i % ${taps}, (i / ${taps}) % ${taps}) + 0.5) / ${taps.toFixed(1)} - 0.5`;
  return `#version 300 es
precision highp float;
in vec2 pixel, lumaPlace, chromaPlace, share;
uniform highp sampler2D lumaPlane, chromaPlane, mattePlane;
uniform mat3x2 lumaMap, chromaMap;
uniform mat3 opens, during, closes;
uniform int samples;
uniform vec4 inside;
uniform float opacity;
uniform float fromLuma;
uniform vec4 fromChroma;
uniform vec3 base, spill, plainColour;
out vec4 colour;
${curve === 'display' ? '' : transferShader(curve)}
${graded ? gradeShader : ''}
${sharp ? sharpLuma : 'float lumaAt(vec2 place) { return texture(lumaPlane, place).r; }'}
${lens ? lensShader : ''}
vec2 onShot(vec3 to) {
  ${projective ? 'if (to.z <= 0.0) return vec2(-1e9);' : ''}
  return ${[projective ? 'to.xy / to.z' : 'to.xy'].map((at) => (lens ? `asFilmed(${at})` : at))[0]};
}
vec2 placed(mat3 map, vec2 from) {
  return onShot(map * vec3(from, 1.0));
}
void main() {
${
  blurred
    ? `  vec4 sum = vec4(0.0);
  vec3 begin = opens * vec3(pixel, 1.0), middle = during * vec3(pixel, 1.0), end = closes * vec3(pixel, 1.0);
  for (int i = 0; i < samples; i++) {
    float share = (float(i) + 0.5) / float(samples);
    float a = (1.0 - share) * (1.0 - 2.0 * share), b = 4.0 * share * (1.0 - share), c = share * (2.0 * share - 1.0);
    vec2 at = ${
      taps === 1
        ? 'onShot(a * begin + b * middle + c * end)'
        : `placed(a * opens + b * during + c * closes, pixel + ${cell})`
    };
    ${bounded ? `if (${outside}) continue;` : ''}
    ${mirrored ? 'at = 1.0 - abs(1.0 - abs(at));' : ''}
    ${look}
    sum += vec4(seen * alpha, alpha);
  }
  colour = sum / float(samples);`
    : `${direct ? '  vec2 at = share;' : '  mat3 map = during;\n  vec2 at = placed(map, pixel);'}
  ${bounded ? `if (${outside}) discard;` : ''}
  ${look}
  colour = vec4(seen * alpha, alpha);`
}
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

/** What was mixed out of sight, pixel by pixel. */
export const mixShader = `#version 300 es
precision highp float;
uniform highp sampler2D mixed;
out vec4 colour;
void main() {
  colour = texelFetch(mixed, ivec2(gl_FragCoord.xy), 0);
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
