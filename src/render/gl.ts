import { vertexShader } from './shaders';
import { spend } from './spent';

/** A fragment shader on the one vertex shader there is, with its uniforms' places. */
export class Program {
  private readonly program: WebGLProgram;
  private readonly locations = new Map<string, WebGLUniformLocation | null>();

  constructor(
    private readonly gl: WebGL2RenderingContext,
    fragmentShader: string,
  ) {
    this.program = gl.createProgram();
    for (const [type, source] of [
      [gl.VERTEX_SHADER, vertexShader],
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

/** Textures of one or two 8-bit channels by slot; bytes are sent only when they come from another picture than last time. */
export class TextureStore {
  private readonly held = new Map<
    string,
    { texture: WebGLTexture; width: number; height: number; source: Uint8Array | null }
  >();

  /** @param source what the bytes are known by; @param bytes makes them when they are needed. */
  bind(
    gl: WebGL2RenderingContext,
    slot: string,
    source: Uint8Array,
    width: number,
    height: number,
    channels: 1 | 2,
    bytes: () => Uint8Array,
  ) {
    let entry = this.held.get(slot);
    if (!entry || entry.width !== width || entry.height !== height) {
      if (entry) gl.deleteTexture(entry.texture);
      entry = { texture: gl.createTexture(), width, height, source: null };
      this.held.set(slot, entry);
      gl.bindTexture(gl.TEXTURE_2D, entry.texture);
      gl.texStorage2D(gl.TEXTURE_2D, 1, channels === 1 ? gl.R8 : gl.RG8, width, height);
      for (const name of [gl.TEXTURE_WRAP_S, gl.TEXTURE_WRAP_T])
        gl.texParameteri(gl.TEXTURE_2D, name, gl.CLAMP_TO_EDGE);
      for (const name of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER])
        gl.texParameteri(gl.TEXTURE_2D, name, gl.LINEAR);
    } else {
      gl.bindTexture(gl.TEXTURE_2D, entry.texture);
    }
    if (entry.source === source) return;
    entry.source = source;
    const start = performance.now();
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
}
