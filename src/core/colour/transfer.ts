import type { Blend } from '../model/choices';

interface Curve {
  /** Slope of the straight part, where it ends (light), power, and scale of the curved part. */
  slope: number;
  end: number;
  power: number;
  offset: number;
}

/** IEC 61966-2-1:1999, §5.2; and BT.709-6, §1.2. */
const curves: Record<Exclude<Blend, 'display'>, Curve> = {
  'linear sRGB': { slope: 12.92, end: 0.0031308, power: 1 / 2.4, offset: 0.055 },
  'linear BT.709': { slope: 4.5, end: 0.018, power: 0.45, offset: 0.099 },
};

/** Light, 0 to 1, of a display value, 0 to 1. */
export function toLight(value: number, blend: Blend): number {
  if (blend === 'display') return value;
  const { slope, end, power, offset } = curves[blend];
  return value <= slope * end ? value / slope : ((value + offset) / (1 + offset)) ** (1 / power);
}

/** Display value, 0 to 1, of light, 0 to 1. */
export function fromLight(light: number, blend: Blend): number {
  if (blend === 'display') return light;
  const { slope, end, power, offset } = curves[blend];
  return light <= end ? light * slope : (1 + offset) * light ** power - offset;
}

/** The two as GLSL functions of a vec3, named `toLight` and `fromLight`. */
export function transferShader(blend: Exclude<Blend, 'display'>): string {
  const { slope, end, power, offset } = curves[blend];
  const number = (value: number) => (Number.isInteger(value) ? value.toFixed(1) : String(value));
  return `vec3 toLight(vec3 value) {
  return mix(pow((value + ${number(offset)}) / ${number(1 + offset)}, vec3(${number(1 / power)})), value / ${number(slope)}, lessThanEqual(value, vec3(${number(slope * end)})));
}
vec3 fromLight(vec3 light) {
  return mix(${number(1 + offset)} * pow(light, vec3(${number(power)})) - ${number(offset)}, light * ${number(slope)}, lessThanEqual(light, vec3(${number(end)})));
}`;
}
