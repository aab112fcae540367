/** One triangle over the whole target. */
export const vertexShader = `#version 300 es
void main() {
  vec2 corner = vec2((gl_VertexID & 1) * 4 - 1, (gl_VertexID & 2) * 2 - 1);
  gl_Position = vec4(corner, 0.0, 1.0);
}`;

/** A layer, sampled as core/compose/picture.ts samples it: the two are held to one code value. */
export const layerShader = `#version 300 es
precision highp float;
precision highp int;
precision highp usampler2D;

uniform usampler2D lumaPlane, uPlane, vPlane, mattePlane;
uniform mat3x2 toShot, toPlanes;
uniform vec2 shotSize, targetSize;
uniform vec4 red, green, blue;
uniform int taps;
uniform bool aligned, flipped, hasMatte, paintMatte;
uniform float extent;
out vec4 colour;

float bilinear(usampler2D plane, vec2 at) {
  ivec2 last = textureSize(plane, 0) - 1;
  vec2 p = clamp(at, vec2(0.0), vec2(last));
  ivec2 i = ivec2(p);
  ivec2 j = min(i + 1, last);
  vec2 f = p - vec2(i);
  float top = mix(float(texelFetch(plane, i, 0).r), float(texelFetch(plane, ivec2(j.x, i.y), 0).r), f.x);
  float bottom = mix(float(texelFetch(plane, ivec2(i.x, j.y), 0).r), float(texelFetch(plane, j, 0).r), f.x);
  return mix(top, bottom, f.y);
}

void main() {
  vec2 pixel = vec2(gl_FragCoord.x, flipped ? gl_FragCoord.y : targetSize.y - gl_FragCoord.y);
  vec2 inShot = toShot * vec3(pixel, 1.0);
  if (any(lessThan(inShot, vec2(0.0))) || any(greaterThan(inShot, shotSize))) discard;
  float cut = extent;
  if (hasMatte) {
    vec2 matteSize = vec2(textureSize(mattePlane, 0));
    cut = bilinear(mattePlane, inShot * matteSize / shotSize - 0.5) / 255.0;
  }
  if (paintMatte) {
    colour = vec4(1.0, 1.0, 1.0, cut);
    return;
  }
  float alpha = 1.0 - cut;
  if (alpha <= 0.0) discard;
  vec2 lumaSize = vec2(textureSize(lumaPlane, 0));
  vec2 chromaSize = vec2(textureSize(uPlane, 0));
  vec3 sum = vec3(0.0);
  vec2 corner = pixel - 0.5;
  for (int i = 0; i < taps; i++) {
    for (int j = 0; j < taps; j++) {
      vec2 p = toPlanes * vec3(corner + (vec2(i, j) + 0.5) / float(taps), 1.0);
      float luma = aligned ? float(texelFetch(lumaPlane, ivec2(p), 0).r) : bilinear(lumaPlane, p - 0.5);
      vec2 c = vec2(p.x - 0.5, p.y) * chromaSize / lumaSize - vec2(0.0, 0.5);
      sum += vec3(luma, bilinear(uPlane, c), bilinear(vPlane, c));
    }
  }
  vec4 yuv = vec4(sum / float(taps * taps), 1.0);
  vec3 rgb = vec3(dot(red, yuv), dot(green, yuv), dot(blue, yuv)) / 255.0;
  colour = vec4(clamp(rgb, 0.0, 1.0), alpha);
}`;

export const checkerShader = `#version 300 es
precision highp float;
uniform vec2 targetSize;
uniform float side, light, dark;
uniform bool flipped;
out vec4 colour;
void main() {
  vec2 pixel = vec2(gl_FragCoord.x, flipped ? gl_FragCoord.y : targetSize.y - gl_FragCoord.y);
  vec2 square = floor(pixel / side);
  float value = mod(square.x + square.y, 2.0) == 1.0 ? dark : light;
  colour = vec4(vec3(value / 255.0), 1.0);
}`;
