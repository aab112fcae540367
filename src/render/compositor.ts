import { yuvToRgb } from '@/core/colour/matrix';
import { checker, type Matte, neutralGrey, tapsFor } from '@/core/compose/picture';
import { type PicturePlanes, shotToPlanes } from '@/core/compose/planes';
import type { LayerDraw, Scene, Shots } from '@/core/compose/scene';
import { type Affine, compose } from '@/core/geometry/affine';
import { checkerShader, layerShader, vertexShader } from './shaders';

/** A layer with the picture and the matte it is to be drawn with. */
export interface PreparedLayer {
  draw: LayerDraw;
  /** Null when the scene paints the matte. */
  planes: PicturePlanes | null;
  matte: Matte | null;
}

/** Draws scenes with WebGL2, for preview and export alike. */
export class Compositor {
  private readonly gl: WebGL2RenderingContext;
  private readonly layerProgram: Program;
  private readonly checkerProgram: Program;
  private readonly textures = new TextureStore();
  private readBuffer: { framebuffer: WebGLFramebuffer; width: number; height: number } | null = null;

  /** @throws Error when WebGL2 is not to be had. */
  constructor(private readonly canvas: OffscreenCanvas) {
    const gl = canvas.getContext('webgl2', { alpha: false, antialias: false, depth: false, stencil: false });
    if (!gl)
      throw new Error(
        'This browser offers no WebGL2, which Kiv draws its picture with. Switch on its software or hardware graphics.',
      );
    this.gl = gl;
    this.layerProgram = new Program(gl, layerShader);
    this.checkerProgram = new Program(gl, checkerShader);
    gl.pixelStorei(gl.UNPACK_ALIGNMENT, 1);
    gl.bindVertexArray(gl.createVertexArray());
  }

  /** Draws onto the canvas, which takes on the size given. */
  show(
    scene: Scene,
    layers: readonly PreparedLayer[],
    shots: Shots,
    crossing: Size,
    width: number,
    height: number,
  ) {
    if (this.canvas.width !== width || this.canvas.height !== height) {
      this.canvas.width = width;
      this.canvas.height = height;
    }
    this.gl.bindFramebuffer(this.gl.FRAMEBUFFER, null);
    this.drawScene(scene, layers, shots, crossing, width, height, false);
  }

  /** Draws out of sight and reads the picture back: RGBA, top row first. */
  read(
    scene: Scene,
    layers: readonly PreparedLayer[],
    shots: Shots,
    crossing: Size,
    width: number,
    height: number,
    out: Uint8Array,
  ) {
    const { gl } = this;
    gl.bindFramebuffer(gl.FRAMEBUFFER, this.framebufferOf(width, height));
    this.drawScene(scene, layers, shots, crossing, width, height, true);
    gl.readPixels(0, 0, width, height, gl.RGBA, gl.UNSIGNED_BYTE, out);
  }

  /** Settles when everything drawn so far is done. */
  async finished() {
    const { gl } = this;
    const fence = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    if (!fence) return;
    gl.flush();
    while (gl.clientWaitSync(fence, 0, 0) === gl.TIMEOUT_EXPIRED)
      await new Promise((done) => setTimeout(done, 1));
    gl.deleteSync(fence);
  }

  private framebufferOf(width: number, height: number): WebGLFramebuffer {
    const { gl } = this;
    if (this.readBuffer?.width === width && this.readBuffer.height === height)
      return this.readBuffer.framebuffer;
    if (this.readBuffer) gl.deleteFramebuffer(this.readBuffer.framebuffer);
    const framebuffer = gl.createFramebuffer();
    const texture = gl.createTexture();
    gl.activeTexture(gl.TEXTURE0);
    gl.bindTexture(gl.TEXTURE_2D, texture);
    gl.texStorage2D(gl.TEXTURE_2D, 1, gl.RGBA8, width, height);
    gl.bindFramebuffer(gl.FRAMEBUFFER, framebuffer);
    gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, texture, 0);
    this.readBuffer = { framebuffer, width, height };
    return framebuffer;
  }

  private drawScene(
    scene: Scene,
    layers: readonly PreparedLayer[],
    shots: Shots,
    crossing: Size,
    width: number,
    height: number,
    flipped: boolean,
  ) {
    const { gl } = this;
    gl.viewport(0, 0, width, height);
    gl.disable(gl.BLEND);
    const level = scene.background === 'grey' ? neutralGrey / 255 : 0;
    gl.clearColor(level, level, level, 1);
    gl.clear(gl.COLOR_BUFFER_BIT);
    if (scene.background === 'checkerboard') {
      const program = this.checkerProgram;
      program.use();
      gl.uniform2f(program.at('targetSize'), width, height);
      gl.uniform1f(program.at('side'), (checker.side * width) / crossing.width);
      gl.uniform1f(program.at('light'), checker.light);
      gl.uniform1f(program.at('dark'), checker.dark);
      gl.uniform1i(program.at('flipped'), flipped ? 1 : 0);
      gl.drawArrays(gl.TRIANGLES, 0, 3);
    }
    gl.enable(gl.BLEND);
    gl.blendFuncSeparate(gl.SRC_ALPHA, gl.ONE_MINUS_SRC_ALPHA, gl.ZERO, gl.ONE);
    this.layerProgram.use();
    gl.uniform2f(this.layerProgram.at('targetSize'), width, height);
    gl.uniform1i(this.layerProgram.at('flipped'), flipped ? 1 : 0);
    const toCrossing: Affine = [crossing.width / width, 0, 0, crossing.height / height, 0, 0];
    layers.forEach((layer, slot) =>
      this.drawLayer(layer, slot, shots, compose(layer.draw.toShot, toCrossing), width === crossing.width),
    );
  }

  private drawLayer(
    { draw, planes, matte }: PreparedLayer,
    slot: number,
    shots: Shots,
    toShot: Affine,
    fullSize: boolean,
  ) {
    const { gl, layerProgram: program } = this;
    const shot = shots[draw.shotId];
    gl.uniformMatrix3x2fv(program.at('toShot'), false, toShot as unknown as number[]);
    gl.uniform2f(program.at('shotSize'), shot.width, shot.height);
    gl.uniform1f(program.at('extent'), draw.cut.extent === 'all' ? 1 : 0);
    gl.uniform1i(program.at('hasMatte'), matte ? 1 : 0);
    gl.uniform1i(program.at('paintMatte'), planes ? 0 : 1);
    const plane = (unit: number, name: string, source: Uint8Array | null, width: number, height: number) => {
      gl.activeTexture(gl.TEXTURE0 + unit);
      this.textures.bind(gl, `${slot} ${name}`, source ?? nothing, source ? width : 1, source ? height : 1);
      gl.uniform1i(program.at(name), unit);
    };
    plane(0, 'lumaPlane', planes?.y ?? null, planes?.width ?? 1, planes?.height ?? 1);
    plane(1, 'uPlane', planes?.u ?? null, planes?.chromaWidth ?? 1, planes?.chromaHeight ?? 1);
    plane(2, 'vPlane', planes?.v ?? null, planes?.chromaWidth ?? 1, planes?.chromaHeight ?? 1);
    plane(3, 'mattePlane', matte?.alpha ?? null, matte?.width ?? 1, matte?.height ?? 1);
    if (planes) {
      const toPlanes = compose(shotToPlanes(shot, planes), toShot);
      const [a, b, c, d, e, f] = toPlanes;
      gl.uniformMatrix3x2fv(program.at('toPlanes'), false, toPlanes as unknown as number[]);
      const aligned = a === 1 && b === 0 && c === 0 && d === 1 && Number.isInteger(e) && Number.isInteger(f);
      gl.uniform1i(program.at('aligned'), aligned ? 1 : 0);
      // Reduced previews are for speed: one sample a pixel does.
      gl.uniform1i(program.at('taps'), fullSize ? tapsFor(Math.hypot(a, b)) : 1);
      const m = yuvToRgb(planes.colour);
      ['red', 'green', 'blue'].forEach((name, row) =>
        gl.uniform4fv(program.at(name), m.subarray(row * 4, row * 4 + 4)),
      );
    }
    gl.drawArrays(gl.TRIANGLES, 0, 3);
  }
}

interface Size {
  width: number;
  height: number;
}

const nothing = new Uint8Array(1);

class Program {
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

/** Single-channel textures by slot; bytes are sent only when they are other bytes than last time. */
class TextureStore {
  private readonly held = new Map<
    string,
    { texture: WebGLTexture; width: number; height: number; source: Uint8Array | null }
  >();

  bind(gl: WebGL2RenderingContext, slot: string, source: Uint8Array, width: number, height: number) {
    let entry = this.held.get(slot);
    if (!entry || entry.width !== width || entry.height !== height) {
      if (entry) gl.deleteTexture(entry.texture);
      entry = { texture: gl.createTexture(), width, height, source: null };
      this.held.set(slot, entry);
      gl.bindTexture(gl.TEXTURE_2D, entry.texture);
      gl.texStorage2D(gl.TEXTURE_2D, 1, gl.R8UI, width, height);
      gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST);
      gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, gl.NEAREST);
    } else {
      gl.bindTexture(gl.TEXTURE_2D, entry.texture);
    }
    if (entry.source === source) return;
    entry.source = source;
    gl.texSubImage2D(gl.TEXTURE_2D, 0, 0, 0, width, height, gl.RED_INTEGER, gl.UNSIGNED_BYTE, source);
  }
}
