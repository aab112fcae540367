import { yuvToRgb } from '@/core/colour/matrix';
import { toLight } from '@/core/colour/transfer';
import type { Blend } from '@/core/model/choices';
import type { Matte } from '@/core/compose/layer-matte';
import { checker, endsMix, neutralGrey, plainColour } from '@/core/compose/picture';
import { type Grade, gradeSteps } from '@/core/colour/grade';
import { type PicturePlanes, shotToPlanes } from '@/core/picture/planes';
import type { Alpha } from '@/core/matte/alpha';
import type { Shot } from '@/core/model/shot';
import { type Homography, isAffine } from '@/core/geometry/homography';
import { times3 } from '@/core/geometry/matrix3';
import type { Scene } from '@/core/compose/scene';
import type { Shots } from '@/core/compose/source-frames';
import { rectanglesOf, tileCut } from '@/core/compose/tiles';
import type { Rectangle } from '@/core/geometry/rectangle';
import { type Affine, compose } from '@/core/geometry/affine';
import { Program, TextureStore } from './gl';
import {
  alphaShares,
  interleaved,
  place,
  sampleShares,
  type Placed,
  type PreparedLayer,
  type Target,
} from './placed';
import { spend } from '@/footage/spent';
import { checkerShader, displayShader, layerShader, layerVertexShader, mixShader } from './shaders';

/** Draws scenes with WebGL2, for preview and export alike. */
export class Compositor {
  private readonly gl: WebGL2RenderingContext;
  private readonly programs = new Map<string, Program>();
  private readonly textures = new TextureStore();
  private readonly onePixel = new Uint8Array(4);
  private readBuffer: Buffer | null = null;
  private lightBuffer: Buffer | null = null;
  private mixBuffer: Buffer | null = null;
  /** The format of floats in which nothing is rounded to bytes; null: bytes are drawn. */
  private deep: number | null = null;

  /** @throws Error when WebGL2 is not to be had. */
  constructor(private readonly canvas: OffscreenCanvas) {
    const gl = canvas.getContext('webgl2', { alpha: false, antialias: false, depth: false, stencil: false });
    if (!gl)
      throw new Error(
        'This browser offers no WebGL2, which Kiv draws its picture with. Switch on its software or hardware graphics.',
      );
    this.gl = gl;
    gl.pixelStorei(gl.UNPACK_ALIGNMENT, 1);
    gl.bindBuffer(gl.ARRAY_BUFFER, gl.createBuffer());
    gl.enableVertexAttribArray(0);
    gl.vertexAttribPointer(0, 2, gl.FLOAT, false, 0, 0);
  }

  /**
   * Draws onto the canvas, which takes on the size given.
   *
   * @param visible part of the target that is looked at, in its px; the rest is left black.
   */
  show(
    scene: Scene,
    layers: readonly PreparedLayer[],
    {
      shots,
      crossing,
      width,
      height,
      visible,
    }: { shots: Shots; crossing: Size; width: number; height: number; visible: Rectangle },
  ) {
    if (this.canvas.width !== width || this.canvas.height !== height) {
      this.canvas.width = width;
      this.canvas.height = height;
    }
    const target = { width, height, flipped: false, visible };
    this.drawScene(scene, placedIn(target, layers, shots, crossing), shots, crossing, target, null);
  }

  /** Draws out of sight and reads the picture back: RGBA, top row first. */
  read(scene: Scene, layers: readonly PreparedLayer[], drawn: Drawn, out: Uint8Array) {
    this.readAs(this.gl.RGBA8, this.gl.UNSIGNED_BYTE, scene, layers, drawn, out);
  }

  /**
   * The same without rounding to bytes between or after: in floats of 32 bits where the browser puts those over each other,
   * else of 16.
   *
   * @param out four numbers a pixel, 0 to 1, top row first; colours multiplied by alpha.
   * @throws Error where it cannot draw into floats.
   */
  readDeep(scene: Scene, layers: readonly PreparedLayer[], drawn: Drawn, out: Float32Array) {
    const { gl } = this;
    if (!gl.getExtension('EXT_color_buffer_float'))
      throw new Error('This browser cannot draw with more than 8 bits. Choose a format of 8 bits.');
    this.deep = gl.getExtension('EXT_float_blend') ? gl.RGBA32F : gl.RGBA16F;
    try {
      this.readAs(this.deep, gl.FLOAT, scene, layers, drawn, out);
    } finally {
      this.deep = null;
    }
  }

  /** @param format of the buffer that is drawn into, and `type` of what is read from it. */
  private readAs(
    format: number,
    type: number,
    scene: Scene,
    layers: readonly PreparedLayer[],
    { shots, crossing, width, height }: Drawn,
    out: Uint8Array | Float32Array,
  ) {
    const { gl } = this;
    const target = { width, height, flipped: true, visible: [0, 0, width, height] as const };
    this.readBuffer = this.bufferOf(this.readBuffer, width, height, format);
    const start = performance.now();
    const placed = placedIn(target, layers, shots, crossing);
    this.drawScene(scene, placed, shots, crossing, target, this.readBuffer.framebuffer);
    spend('draw', start);
    const reading = performance.now();
    gl.readPixels(0, 0, width, height, gl.RGBA, type, out);
    spend('read', reading);
  }

  /**
   * Draws some tiles of a picture out of sight and reads the box about them back: RGBA, top row first; other tiles in it are
   * anything.
   *
   * @param placed its layers in a picture of that size.
   */
  readTiles(
    scene: Scene,
    placed: readonly Placed[],
    shots: Shots,
    crossing: Size,
    { width, height }: Size,
    visible: Rectangle,
    only: (tile: number) => boolean,
    out: Uint8Array,
  ) {
    const { gl } = this;
    this.readBuffer = this.bufferOf(this.readBuffer, width, height, gl.RGBA8);
    const start = performance.now();
    const target = { width, height, flipped: true, visible, only };
    this.drawScene(scene, placed, shots, crossing, target, this.readBuffer.framebuffer);
    spend('draw', start);
    const reading = performance.now();
    const [x0, y0, x1, y1] = visible;
    gl.readPixels(x0, y0, x1 - x0, y1 - y0, gl.RGBA, gl.UNSIGNED_BYTE, out);
    spend('read', reading);
  }

  /** Waits until everything drawn so far is done; the thread waits with it. */
  finish() {
    const start = performance.now();
    this.gl.readPixels(0, 0, 1, 1, this.gl.RGBA, this.gl.UNSIGNED_BYTE, this.onePixel);
    spend('wait', start);
  }

  /** A buffer of this size, the one there is if it fits. */
  private bufferOf(before: Buffer | null, width: number, height: number, format: number): Buffer {
    const { gl } = this;
    if (before?.width === width && before.height === height && before.format === format) return before;
    if (before) {
      gl.deleteFramebuffer(before.framebuffer);
      gl.deleteTexture(before.texture);
    }
    const framebuffer = gl.createFramebuffer();
    const texture = gl.createTexture();
    gl.activeTexture(gl.TEXTURE0);
    gl.bindTexture(gl.TEXTURE_2D, texture);
    gl.texStorage2D(gl.TEXTURE_2D, 1, format, width, height);
    gl.bindFramebuffer(gl.FRAMEBUFFER, framebuffer);
    gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, texture, 0);
    return { framebuffer, texture, width, height, format };
  }

  private drawScene(
    scene: Scene,
    placed: readonly Placed[],
    shots: Shots,
    crossing: Size,
    target: Target,
    framebuffer: WebGLFramebuffer | null,
  ) {
    const { gl } = this;
    const { width, height } = target;
    const { blend } = scene;
    if (blend !== 'display') {
      // Light takes more than eight bits; where there is no such buffer it cannot be mixed.
      if (!gl.getExtension('EXT_color_buffer_float'))
        throw new Error('This browser cannot mix in linear light. Choose display values in the Edge step.');
      this.lightBuffer = this.bufferOf(this.lightBuffer, width, height, this.deep ?? gl.RGBA16F);
    }
    const main = blend === 'display' ? framebuffer : this.lightBuffer!.framebuffer;
    if (placed.some(({ draw }) => draw.mixed !== null)) {
      const format = this.deep ?? (gl.getExtension('EXT_color_buffer_float') ? gl.RGBA16F : gl.RGBA8);
      this.mixBuffer = this.bufferOf(this.mixBuffer, width, height, format);
    }
    gl.bindFramebuffer(gl.FRAMEBUFFER, main);
    gl.viewport(0, 0, width, height);
    gl.disable(gl.BLEND);
    const level = scene.background === 'grey' ? toLight(neutralGrey / 255, blend) : 0;
    const clear = scene.background === 'clear';
    gl.clearColor(level, level, level, clear ? 0 : 1);
    // On nothing, alpha adds up; else all is covered from the start.
    const layOver = () =>
      clear
        ? gl.blendFunc(gl.ONE, gl.ONE_MINUS_SRC_ALPHA)
        : gl.blendFuncSeparate(gl.ONE, gl.ONE_MINUS_SRC_ALPHA, gl.ZERO, gl.ONE);
    layOver();
    gl.clear(gl.COLOR_BUFFER_BIT);
    if (scene.background === 'checkerboard') {
      const program = this.program('checkerboard', () => checkerShader, target);
      gl.uniform1f(program.at('side'), (checker.side * width) / crossing.width);
      gl.uniform1f(program.at('light'), 255 * toLight(checker.light / 255, blend));
      gl.uniform1f(program.at('dark'), 255 * toLight(checker.dark / 255, blend));
      this.drawRectangles([target.visible]);
    }
    placed.forEach((layer, slot) => {
      const shot = shots[layer.draw.shotId];
      const { mixed, layerId } = layer.draw;
      const { draw: before } = placed[slot - 1] ?? {};
      if (mixed !== null && (before?.mixed == null || before.layerId !== layerId)) {
        gl.bindFramebuffer(gl.FRAMEBUFFER, this.mixBuffer!.framebuffer);
        gl.clearColor(0, 0, 0, 0);
        gl.clear(gl.COLOR_BUFFER_BIT);
        gl.blendFunc(gl.CONSTANT_ALPHA, gl.ONE);
      }
      if (mixed !== null) gl.blendColor(0, 0, 0, mixed);
      this.drawLayer(layer, shot, placed.slice(slot + 1), target, width === crossing.width, blend);
      if (!endsMix(scene.layers, slot)) return;
      layOver();
      this.layMix(main, target);
    });
    if (blend === 'display') return;
    gl.bindFramebuffer(gl.FRAMEBUFFER, framebuffer);
    gl.disable(gl.BLEND);
    const program = this.program(blend, () => displayShader(blend), target);
    gl.activeTexture(gl.TEXTURE0);
    gl.bindTexture(gl.TEXTURE_2D, this.lightBuffer!.texture);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST);
    gl.uniform1i(program.at('light'), 0);
    this.drawRectangles([[0, 0, width, height]]);
  }

  /** Lays what was mixed over what is below. */
  private layMix(main: WebGLFramebuffer | null, target: Target) {
    const { gl } = this;
    gl.bindFramebuffer(gl.FRAMEBUFFER, main);
    gl.enable(gl.BLEND);
    const program = this.program('mix', () => mixShader, target);
    gl.activeTexture(gl.TEXTURE0);
    gl.bindTexture(gl.TEXTURE_2D, this.mixBuffer!.texture);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST);
    gl.uniform1i(program.at('mixed'), 0);
    this.drawRectangles([target.visible]);
  }

  /** Draws a layer where nothing above hides it: plainly where it is whole, mixed where its matte cuts part. */
  private drawLayer(
    layer: Placed,
    shot: Shot,
    above: readonly Placed[],
    target: Target,
    fullSize: boolean,
    blend: Blend,
  ) {
    const { gl } = this;
    const { planes, tiles, frame, bounded, draw, sampling } = layer;
    const blurred = sampling.samples > 0;
    const mixed = draw.opacity < 1;
    const covers = above.filter((other) => other.planes);
    const { only } = target;
    const seen = (tile: number) => (!only || only(tile)) && !covers.some((other) => other.hides(tile));
    let bound = false;
    // Reduced previews are for speed: one sample a pixel does.
    const taps = fullSize ? sampling.taps : 1;
    for (const matte of [false, true]) {
      const kind = matte ? tileCut.part : planes ? tileCut.none : tileCut.all;
      const rectangles = rectanglesOf(tiles, frame, (tile) => tiles.cut[tile] === kind && seen(tile));
      if (rectangles.length === 0) continue;
      if (!bound) {
        if (planes) this.bindPlanes(planes, layer);
        if (layer.matte) this.bindMatte(layer.matte);
        bound = true;
      }
      const variant = {
        matte,
        paintMatte: !planes,
        taps,
        direct: !blurred && !sampling.lens && isAffine(sampling.maps[0]),
        projective: blurred || !isAffine(sampling.maps[0]),
        lens: sampling.lens !== null,
        blurred,
        sharp: sampling.sharp,
        bounded,
        mirrored: sampling.mirrored,
        mixed,
        plain: draw.plain !== null,
        negative: draw.negative,
        blend,
        spill: draw.spill !== null,
        graded: draw.grade !== null,
      };
      const program = this.program(
        JSON.stringify(variant),
        () => layerShader(variant),
        target,
        layerVertexShader,
      );
      this.setLayer(program, layer, shot, blend, variant.direct);
      if (matte || mixed || draw.mixed !== null || (blurred && bounded)) gl.enable(gl.BLEND);
      else gl.disable(gl.BLEND);
      this.drawRectangles(rectangles);
    }
  }

  private bindPlanes(planes: PicturePlanes, { sampling }: Placed) {
    const { gl } = this;
    gl.activeTexture(gl.TEXTURE0);
    const deep = this.deep === null ? undefined : planes.deep;
    const { y, u } = deep ?? planes;
    this.textures.bind(gl, y, planes.width, planes.height, 1, () => (deep ? sampleShares(deep.y) : planes.y));
    const filter = sampling.aligned ? gl.NEAREST : gl.LINEAR;
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, filter);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, filter);
    gl.activeTexture(gl.TEXTURE1);
    this.textures.bind(gl, u, planes.chromaWidth, planes.chromaHeight, 2, () =>
      deep ? sampleShares(deep.u, deep.v) : interleaved(planes),
    );
  }

  private bindMatte({ alpha, width, height }: Matte<Alpha>) {
    const { gl } = this;
    gl.activeTexture(gl.TEXTURE2);
    this.textures.bind(gl, alpha, width, height, 1, () =>
      alpha instanceof Uint16Array ? alphaShares(alpha) : alpha,
    );
  }

  private setLayer(
    program: Program,
    { planes, sampling, draw }: Placed,
    shot: Shot,
    blend: Blend,
    direct: boolean,
  ) {
    const { gl } = this;
    gl.uniform1i(program.at('lumaPlane'), 0);
    gl.uniform1i(program.at('chromaPlane'), 1);
    gl.uniform1i(program.at('mattePlane'), 2);
    // To shares of the shot's width and height, where all its planes begin.
    const { maps, lens, samples } = sampling;
    if (lens) gl.uniform4f(program.at('lens'), lens.lambda, lens.half, shot.width, shot.height);
    const shares = [1 / shot.width, 0, 0, 0, 1 / shot.height, 0, 0, 0, 1];
    const map = (name: string, toShot: Homography) =>
      gl.uniformMatrix3fv(program.at(name), true, times3(shares, toShot));
    map('during', maps[maps.length >> 1]);
    const [a, c, e, b, d, f] = times3(shares, maps[0]);
    const affine = (name: string, to: Affine) => gl.uniformMatrix3x2fv(program.at(name), false, [...to]);
    const toShares: Affine = direct ? [a, b, c, d, e, f] : [1, 0, 0, 1, 0, 0];
    affine('shareMap', toShares);
    if (samples > 0) {
      map('opens', maps[0]);
      map('closes', maps[2]);
      gl.uniform1i(program.at('samples'), samples);
      const [x0, y0, x1, y1] = sampling.inside;
      gl.uniform4f(
        program.at('inside'),
        x0 / shot.width,
        y0 / shot.height,
        x1 / shot.width,
        y1 / shot.height,
      );
    }
    if (draw.opacity < 1) gl.uniform1f(program.at('opacity'), draw.opacity);
    if (draw.grade) this.setGrade(program, draw.grade);
    if (draw.plain) gl.uniform3fv(program.at('plainColour'), plainColour(draw.plain, blend));
    if (!planes) return;
    const ofShares = compose(shotToPlanes(shot, planes), [shot.width, 0, 0, shot.height, 0, 0]);
    const toPlanes = compose(ofShares, toShares);
    const texture = (name: string, toSamples: Affine, width: number, height: number) =>
      affine(name, compose([1 / width, 0, 0, 1 / height, 0, 0], toSamples));
    texture('lumaMap', toPlanes, planes.width, planes.height);
    const [sx, sy] = [planes.chromaWidth / planes.width, planes.chromaHeight / planes.height];
    // Chroma samples stand level with every other luma column: half a luma sample left of the middle of their pair.
    texture(
      'chromaMap',
      compose([sx, 0, 0, sy, 0.5 - 0.5 * sx, 0], toPlanes),
      planes.chromaWidth,
      planes.chromaHeight,
    );
    if (draw.spill) gl.uniform3f(program.at('spill'), draw.spill.u, draw.spill.v, draw.spill.share);
    const m = yuvToRgb(planes.colour);
    // Every such matrix takes luma to all three alike, red from v, blue from u, and green from both.
    gl.uniform1f(program.at('fromLuma'), m[0]);
    gl.uniform4f(program.at('fromChroma'), m[2], m[5], m[6], m[9]);
    gl.uniform3f(program.at('base'), m[3] / 255, m[7] / 255, m[11] / 255);
  }

  private setGrade(program: Program, grade: Grade) {
    const { gl } = this;
    const { toCones, fromCones, matrix, shift, floor } = gradeSteps(grade);
    gl.uniformMatrix3fv(program.at('toCones'), true, toCones);
    gl.uniformMatrix3fv(program.at('fromCones'), true, fromCones);
    gl.uniformMatrix3fv(program.at('gradeMatrix'), true, matrix);
    gl.uniform3f(program.at('gradeShift'), shift[0], shift[1], shift[2]);
    gl.uniform1f(program.at('gradeFloor'), floor);
  }

  private drawRectangles(rectangles: readonly Rectangle[]) {
    const { gl } = this;
    const corners = new Float32Array(
      rectangles.flatMap(([x0, y0, x1, y1]) => [x0, y0, x1, y0, x0, y1, x0, y1, x1, y0, x1, y1]),
    );
    gl.bufferData(gl.ARRAY_BUFFER, corners, gl.STREAM_DRAW);
    gl.drawArrays(gl.TRIANGLES, 0, corners.length / 2);
  }

  private program(
    name: string,
    fragmentShader: () => string,
    { width, height, flipped }: Target,
    vertex?: string,
  ): Program {
    let program = this.programs.get(name);
    if (!program) this.programs.set(name, (program = new Program(this.gl, fragmentShader(), vertex)));
    program.use();
    this.gl.uniform2f(program.at('targetSize'), width, height);
    this.gl.uniform1i(program.at('flipped'), flipped ? 1 : 0);
    return program;
  }
}

/** Layers as they lie in a picture. */
export function placedIn(
  target: Target,
  layers: readonly PreparedLayer[],
  shots: Shots,
  crossing: Size,
): Placed[] {
  return layers.map((layer) => place(layer, shots[layer.draw.shotId], crossing, target));
}

/** What a picture is drawn from, and how large. */
interface Drawn {
  shots: Shots;
  crossing: Size;
  width: number;
  height: number;
}

interface Buffer {
  framebuffer: WebGLFramebuffer;
  texture: WebGLTexture;
  width: number;
  height: number;
  format: number;
}

interface Size {
  width: number;
  height: number;
}
