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
  source: Uint8Array | Uint16Array;
  kind: TextureKind;
}

/** What a texture's channels hold: bytes, or floats where what they are made from has more bits. */
type TextureKind = 'bytes' | 'floats';

/** Most textures that are kept: of a few frames, so that a step back sends nothing. */
const mostTextures = 18;

/**
 * Textures of one or two channels by what they were made from: samples are sent once, whichever layers and frames show
 * them. The longest unused gives its place to a new one of its size.
 */
export class TextureStore {
  /** The longest unused first. */
  private held: HeldTexture[] = [];

  /** @param source what the samples are known by; @param samples makes them when they are needed. */
  bind(
    gl: WebGL2RenderingContext,
    source: Uint8Array | Uint16Array,
    width: number,
    height: number,
    channels: 1 | 2,
    samples: () => Uint8Array | Float32Array,
  ) {
    const kind = source instanceof Uint16Array ? 'floats' : 'bytes';
    const at = this.held.findIndex((entry) => entry.source === source && entry.channels === channels);
    if (at >= 0) {
      const [entry] = this.held.splice(at, 1);
      this.held.push(entry);
      gl.bindTexture(gl.TEXTURE_2D, entry.texture);
      return;
    }
    const start = performance.now();
    const entry =
      this.emptied(gl, { width, height, channels, kind }) ?? made(gl, { width, height, channels, kind });
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
      kind === 'floats' ? gl.FLOAT : gl.UNSIGNED_BYTE,
      samples(),
    );
    spend('upload', start);
  }

  /** A texture of this size that may be written over, once there are enough; those of other sizes go. */
  private emptied(gl: WebGL2RenderingContext, { width, height, channels, kind }: TextureShape) {
    if (this.held.length < mostTextures) return null;
    const at = this.held.findIndex(
      (entry) =>
        entry.width === width &&
        entry.height === height &&
        entry.channels === channels &&
        entry.kind === kind,
    );
    const [entry] = this.held.splice(Math.max(0, at), 1);
    if (at >= 0) return entry;
    gl.deleteTexture(entry.texture);
    return null;
  }
}

type TextureShape = Pick<HeldTexture, 'width' | 'height' | 'channels' | 'kind'>;

/** The inner format; floats of 32 bits where those are interpolated, else of 16, which hold 11. */
function innerFormat(gl: WebGL2RenderingContext, { channels, kind }: TextureShape) {
  if (kind === 'bytes') return channels === 1 ? gl.R8 : gl.RG8;
  const whole = gl.getExtension('OES_texture_float_linear') !== null;
  if (channels === 1) return whole ? gl.R32F : gl.R16F;
  return whole ? gl.RG32F : gl.RG16F;
}

function made(gl: WebGL2RenderingContext, shape: TextureShape) {
  const { width, height } = shape;
  const texture = gl.createTexture();
  gl.bindTexture(gl.TEXTURE_2D, texture);
  gl.texStorage2D(gl.TEXTURE_2D, 1, innerFormat(gl, shape), width, height);
  for (const name of [gl.TEXTURE_WRAP_S, gl.TEXTURE_WRAP_T])
    gl.texParameteri(gl.TEXTURE_2D, name, gl.CLAMP_TO_EDGE);
  for (const name of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER])
    gl.texParameteri(gl.TEXTURE_2D, name, gl.LINEAR);
  return { texture, ...shape };
}
