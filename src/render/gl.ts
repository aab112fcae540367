import { vertexShader } from './shaders';
import { spend } from '@/footage/spent';

/** A vertex and a fragment shader, with their uniforms' places. */
export class Program {
  private readonly program: WebGLProgram;
  private readonly locations = new Map<string, WebGLUniformLocation | null>();

  constructor(
    private readonly gl: WebGL2RenderingContext,
    fragmentShader: string,
    vertex = vertexShader,
  ) {
    this.program = gl.createProgram();
    for (const [type, source] of [
      [gl.VERTEX_SHADER, vertex],
      [gl.FRAGMENT_SHADER, fragmentShader],
    ] as const) {
      const shader = gl.createShader(type)!;
      gl.shaderSource(shader, source);
      gl.compileShader(shader);
      if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS))
        throw new Error(`Shader: ${gl.getShaderInfoLog(shader)}`);
      gl.attachShader(this.program, shader);
    }
    gl.bindAttribLocation(this.program, 0, 'corner');
    gl.linkProgram(this.program);
    if (!gl.getProgramParameter(this.program, gl.LINK_STATUS))
      throw new Error(`Program: ${gl.getProgramInfoLog(this.program)}`);
  }

  use() {
    this.gl.useProgram(this.program);
  }

  at(name: string): WebGLUniformLocation | null {
    if (!this.locations.has(name)) this.locations.set(name, this.gl.getUniformLocation(this.program, name));
    return this.locations.get(name)!;
  }
}

interface HeldTexture {
  texture: WebGLTexture;
  width: number;
  height: number;
  channels: 1 | 2;
  source: Uint8Array;
}

/** Most textures that are kept: of a few frames, so that a step back sends nothing. */
const mostTextures = 18;

/**
 * Textures of one or two 8-bit channels by what they were made from: bytes are sent once, whichever layers and frames
 * show them. The longest unused gives its place to a new one of its size.
 */
export class TextureStore {
  /** The longest unused first. */
  private held: HeldTexture[] = [];

  /** @param source what the bytes are known by; @param bytes makes them when they are needed. */
  bind(
    gl: WebGL2RenderingContext,
    source: Uint8Array,
    width: number,
    height: number,
    channels: 1 | 2,
    bytes: () => Uint8Array,
  ) {
    const at = this.held.findIndex((entry) => entry.source === source && entry.channels === channels);
    if (at >= 0) {
      const [entry] = this.held.splice(at, 1);
      this.held.push(entry);
      gl.bindTexture(gl.TEXTURE_2D, entry.texture);
      return;
    }
    const start = performance.now();
    const entry = this.emptied(gl, width, height, channels) ?? made(gl, width, height, channels);
    this.held.push({ ...entry, source });
    gl.bindTexture(gl.TEXTURE_2D, entry.texture);
    gl.texSubImage2D(
      gl.TEXTURE_2D,
      0,
      0,
      0,
      width,
      height,
      channels === 1 ? gl.RED : gl.RG,
      gl.UNSIGNED_BYTE,
      bytes(),
    );
    spend('upload', start);
  }

  /** A texture of this size that may be written over, once there are enough; those of other sizes go. */
  private emptied(gl: WebGL2RenderingContext, width: number, height: number, channels: 1 | 2) {
    if (this.held.length < mostTextures) return null;
    const at = this.held.findIndex(
      (entry) => entry.width === width && entry.height === height && entry.channels === channels,
    );
    const [entry] = this.held.splice(Math.max(0, at), 1);
    if (at >= 0) return entry;
    gl.deleteTexture(entry.texture);
    return null;
  }
}

function made(gl: WebGL2RenderingContext, width: number, height: number, channels: 1 | 2) {
  const texture = gl.createTexture();
  gl.bindTexture(gl.TEXTURE_2D, texture);
  gl.texStorage2D(gl.TEXTURE_2D, 1, channels === 1 ? gl.R8 : gl.RG8, width, height);
  for (const name of [gl.TEXTURE_WRAP_S, gl.TEXTURE_WRAP_T])
    gl.texParameteri(gl.TEXTURE_2D, name, gl.CLAMP_TO_EDGE);
  for (const name of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER])
    gl.texParameteri(gl.TEXTURE_2D, name, gl.LINEAR);
  return { texture, width, height, channels };
}
