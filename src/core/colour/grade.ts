import type { ChannelOf } from '../model/channels';
import { apply3, inverse3, times3 } from '../geometry/matrix3';
import type { Blend } from '../model/choices';

/**
 * Colour settings that work in light, in the space lαβ of Reinhard, Ashikhmin, Gooch and Shirley, “Color Transfer
 * between Images” (2001): logarithms of cone responses, turned so that they hardly depend on each other in natural
 * pictures. There all five settings are a scale and a shift, and so is what makes one picture's statistics another's.
 */
export interface Grade extends Record<ChannelOf<'grade'>, number> {
  /** Stops. */
  exposure: number;
  /** Percent, about middle grey. */
  contrast: number;
  /** Percent. */
  saturation: number;
  /** Towards yellow (+) or blue (−), in hundredths of a decade. */
  warmth: number;
  /** Towards red (+) or green (−), in hundredths of a decade. */
  tint: number;
}

export const plainGrade: Grade = { exposure: 0, contrast: 100, saturation: 100, warmth: 0, tint: 0 };

/** A grade taken only so far, 0 to 1. */
export function partOf(grade: Grade, share: number): Grade {
  const part = { ...grade };
  for (const key of Object.keys(plainGrade) as (keyof Grade)[])
    part[key] = Math.round(100 * (plainGrade[key] + (grade[key] - plainGrade[key]) * share)) / 100;
  return part;
}

/** From linear RGB to cone responses, by rows; equation 4 of the paper. */
const toCones = [0.3811, 0.5783, 0.0402, 0.1967, 0.7244, 0.0782, 0.0241, 0.1288, 0.8444];
const fromCones = inverse3(toCones);
/** From logarithms of cone responses to l, α and β, by rows; equation 6 of the paper. */
const toOpponents = [
  ...[1, 1, 1].map((k) => k / Math.sqrt(3)),
  ...[1, 1, -2].map((k) => k / Math.sqrt(6)),
  ...[1, -1, 0].map((k) => k / Math.SQRT2),
];
/** It is a rotation. */
const fromOpponents = [0, 3, 6, 1, 4, 7, 2, 5, 8].map((k) => toOpponents[k]);

/** Added to cone responses before the logarithm, so that black has one. */
const floor = 1 / 512;
/** Middle grey, in light (common practice, no source). */
const middleGrey = 0.18;
/** l of middle grey, and of a stop. */
export const greyLevel = Math.sqrt(3) * Math.log10(middleGrey);
export const stopLevel = Math.sqrt(3) * Math.log10(2);

/** l, α, β of a colour in light, 0 to 1. */
export function opponentsOf(red: number, green: number, blue: number): [l: number, a: number, b: number] {
  const cones = apply3(toCones, red, green, blue).map((value) => Math.log10(Math.max(0, value) + floor));
  return apply3(toOpponents, cones[0], cones[1], cones[2]);
}

/** The steps by which a grade is worked out, for any colour: the logarithms of cone responses ↦ matrix · them + shift. */
export interface GradeSteps {
  toCones: readonly number[];
  fromCones: readonly number[];
  /** By rows, on logarithms to the base of 10. */
  matrix: readonly number[];
  shift: readonly number[];
  floor: number;
}

export function gradeSteps({ exposure, contrast, saturation, warmth, tint }: Grade): GradeSteps {
  const scale = [contrast / 100, saturation / 100, saturation / 100];
  const shift = [
    greyLevel * (1 - scale[0]) + stopLevel * exposure,
    (warmth / 100) * Math.sqrt(6),
    (tint / 100) * Math.SQRT2,
  ];
  const scaled = toOpponents.map((value, k) => value * scale[Math.floor(k / 3)]);
  return {
    toCones,
    fromCones,
    matrix: times3(fromOpponents, scaled),
    shift: apply3(fromOpponents, shift[0], shift[1], shift[2]),
    floor,
  };
}

/** A graded colour in light, 0 to 1. */
export function graded(
  { toCones, fromCones, matrix, shift, floor }: GradeSteps,
  red: number,
  green: number,
  blue: number,
): [number, number, number] {
  const cones = apply3(toCones, red, green, blue).map((value) => Math.log10(Math.max(0, value) + floor));
  const after = apply3(matrix, cones[0], cones[1], cones[2]).map(
    (value, k) => 10 ** (value + shift[k]) - floor,
  );
  const rgb = apply3(fromCones, after[0], after[1], after[2]);
  return rgb.map((value) => Math.min(1, Math.max(0, value))) as [number, number, number];
}

/** The curve by which display values become light for grading, where the picture itself is mixed as display values. */
export function gradeCurve(blend: Blend): Exclude<Blend, 'display'> {
  return blend === 'display' ? 'linear sRGB' : blend;
}

/** {@link graded} in GLSL, of light in a vec3. */
export const gradeShader = `
uniform mat3 toCones, fromCones, gradeMatrix;
uniform vec3 gradeShift;
uniform float gradeFloor;
vec3 graded(vec3 light) {
  vec3 cones = log2(max(toCones * light, 0.0) + gradeFloor) * ${Math.log10(2)};
  vec3 after = exp2((gradeMatrix * cones + gradeShift) * ${Math.log2(10)}) - gradeFloor;
  return clamp(fromCones * after, 0.0, 1.0);
}`;
