import { plainTime, onwards } from '../model/time';
import {
  blends,
  blurBorders,
  planNames,
  roles,
  carriedByWays,
  outlineKinds,
  purposes,
  sides,
  combines,
  beyonds,
  outlineColours,
  doubts,
  origins,
  betweensWays,
  fits,
  pieceSources,
  crossfades,
  markKinds,
  decidedIn,
  surenesses,
  strokeMarks,
  numbersPerPoint,
} from '../model/choices';
import { makerNames } from '../model/maker-names';
import { lensBounds, limits, mostSamples, mostMade, mostTracks } from '../model/limits';
import { type Channel, channels } from '../model/channels';
import {
  choice,
  decimal,
  fewNumbers,
  flag,
  ident,
  type IdParts,
  idents,
  looseReference,
  number,
  numbers,
  orNull,
  ownId,
  plainOf,
  reference,
  type RowOf,
  text,
  whole,
} from './table';

export function poseId(outlineId: string, frame: number): string {
  return `${outlineId}@${frame}`;
}

export function edgeId(outlineId: string, frame: number): string {
  return `${outlineId}~${frame}`;
}

export function moveId(ownerId: string, channel: Channel, frame: number): string {
  return `${ownerId}~${channel}~${frame}`;
}

/** Largest number of a source frame. */
const lastFrame = 10_000_000;
const mostFrames = limits.frames;
const sourceFrame = () => whole(0, lastFrame);

/** How an outline's edge is drawn; widths in pixels of the shot. */
const edgeFields = {
  /** Width of the soft edge to the inside and to the outside of the line, 0 or more. */
  featherInside: number(0, 500, { plain: 0 }),
  featherOutside: number(0, 500, { plain: 0 }),
  /** How far the region is grown (+) or shrunk (−). */
  spread: number(-500, 500, { plain: 0 }),
  /** How far from a corner the line leaves its straight course to go round it. */
  roundness: number(0, 500, { plain: 0 }),
  /** What the feather is multiplied by at each point, 0 or more; empty where it is 1 everywhere. */
  factors: fewNumbers({ low: 0, high: 10, least: 0, most: limits.points, per: 1 }),
};

/**
 * The tables of a crossing's document. Types, what the server takes, and how rows are read and written follow from
 * these, and so do references, renaming, and what a crossing takes along when it travels: a new table or field is its
 * description here and a migration. Tables come after those that their rows refer to.
 */
export const tables = {
  /** One transition being built: the unit that is opened, saved and exported. */
  crossing: {
    called: 'a crossing',
    collection: 'crossing',
    shape: 'one',
    derivedId: null,
    storesId: true,
    fields: {
      id: ownId(),
      name: text(1, limits.name),
      plan: choice(planNames),
      /** Size of the result in pixels. */
      width: whole(2, 8192),
      height: whole(2, 8192),
      rateNum: whole(1, 1_000_000),
      rateDen: whole(1, 100_000),
      /** Length in crossing frames; they are numbered from 0. */
      length: whole(1, mostFrames),
      /** First and last frame that are played and exported; `outFrame` null stands for the last there is. */
      inFrame: whole(0, mostFrames, { plain: 0 }),
      outFrame: orNull(whole(0, mostFrames)),
      /** How its layers are mixed where an edge is soft. */
      blend: choice(blends, 'display'),
      /** Blur of what moves: how long the shutter is open, degrees of a frame, evenly about the frame's own time. */
      moveShutter: number(0, 720, { plain: 0 }),
      /** What blurs show beyond those borders of a shot that are not seen themselves. */
      blurBorder: choice(blurBorders, 'extend'),
    },
  },
  /** A shot's place in the crossing, in time and in the picture. */
  layer: {
    called: 'a layer',
    collection: 'layers',
    shape: 'by id',
    derivedId: null,
    storesId: true,
    fields: {
      id: ownId(),
      /** A name of its own; null: its shot's. */
      name: orNull(text(1, limits.name)),
      role: choice(roles),
      shotId: reference('shot'),
      /** 0 is the bottom layer. */
      position: whole(0, 100),
      // The time map: see core/time/time-map.ts.
      offset: whole(-lastFrame, lastFrame, { plain: plainTime.offset, column: 'frame_offset' }),
      speed: decimal(2, 25, 800, { plain: plainTime.speed }),
      reverse: flag(plainTime.reverse),
      holdFrom: orNull(sourceFrame()),
      /** Speed by keys: see core/time/ramp.ts. */
      ramp: fewNumbers({ low: -1000, high: mostFrames, least: 0, most: 400, per: 2 }),
      /** The crossing frame that the ramp leaves as it is. */
      rampAt: whole(0, mostFrames, { plain: 0 }),
      rampRound: whole(0, 200, { plain: 0 }),
      /** What is shown where its frames and the crossing's do not meet: the frame under way, or a mix with the next. */
      betweens: choice(betweensWays, 'nearest'),
      /** First and last source frame that the layer shows; null stands for the shot's own. */
      trimIn: orNull(sourceFrame()),
      trimOut: orNull(sourceFrame()),
      visible: flag(true),
      /** Whether its outlines keep what they enclose; else they cut it away. */
      keeps: flag(false),
      /** Whether a person has chosen it to be traced on, whatever the plan says. */
      traced: flag(false),
      /** The size before `scale`: filling the crossing's frame, whole within it, or pixel for pixel. */
      fit: choice(fits, 'fill'),
      /** Mirrored left to right. */
      flip: flag(false),
      /** Shift of its middle from the crossing's, in crossing px. */
      x: number(-20_000, 20_000, { plain: 0 }),
      y: number(-20_000, 20_000, { plain: 0 }),
      /** Percent. */
      scale: number(1, 2000, { plain: 100 }),
      /** Degrees, clockwise. */
      turn: number(-3600, 3600, { plain: 0 }),
      /** The layer whose movement it goes along with; null: none. */
      followsId: orNull(reference('layer')),
      /** How far it does, percent. */
      followShare: number(0, 100, { plain: 100 }),
      /** How far the shot's unsteadiness is taken out, percent; 0 is off. */
      steady: number(0, 100, { plain: 0 }),
      /** How its lens bends what is straight: λ of core/geometry/lens.ts; 0 is not at all. */
      lens: number(lensBounds[0], lensBounds[1], { plain: 0 }),
      /** The shot that is its matte, on whose white it is cut before its outlines are joined; null: none. */
      matteId: orNull(reference('shot')),
      /** The layer's source frame on which the matte's frame 0 lies. */
      matteFrom: whole(-lastFrame, lastFrame, { plain: 0 }),
      /** Whether it is the matte's black that counts. */
      matteTurned: flag(false),
    },
  },
  /**
   * A seam or a loop on a layer: what it encloses, or sweeps, is cut away from that layer. Its edge settings hold
   * where the edge has no keys of its own.
   */
  outline: {
    called: 'an outline',
    collection: 'outlines',
    shape: 'by id',
    derivedId: null,
    storesId: true,
    fields: {
      id: ownId(),
      /** The layer whose shot it is traced on. */
      layerId: reference('layer'),
      /** The layer that it cuts; null stands for the one it is traced on. */
      cutsLayerId: orNull(reference('layer')),
      name: text(1, limits.name),
      /** What it is for in the crossing's plan; its name is free. */
      purpose: choice(purposes, 'any'),
      kind: choice(outlineKinds),
      /** A seam's region lies on this side as one walks from its first point to its last; a loop ignores it. */
      sweptSide: choice(sides),
      position: whole(0, 1000),
      /** Stable ids of the points, in order along the outline. */
      points: idents(1, limits.points),
      combine: choice(combines, 'add'),
      beforeFirst: choice(beyonds, 'empty'),
      afterLast: choice(beyonds, 'full'),
      colour: choice(outlineColours, 'chalk'),
      /** Whether the hand leaves it alone. */
      locked: flag(false),
      /** Whether its line is left out of the picture; it cuts all the same. */
      hidden: flag(false),
      /** Motion blur of the matte: how long the shutter is open, degrees of a frame (0: off, 360: the whole frame). */
      shutter: number(0, 720, { plain: 0 }),
      /** When it opens against the frame's own time, degrees; −shutter / 2 lies even about it. */
      phase: number(-720, 720, { plain: -90 }),
      /** A leaf: the point at which the side that it hangs by begins; null where it is none. */
      hinge: orNull(ident()),
      /** Whether it swings away from the camera, and how far that is, in widths of the picture. */
      inwards: flag(true),
      camera: number(0.2, 20, { plain: 1.5 }),
      /** How thick it is, px of the shot, and the plain colour of its sides, red, green and blue in a byte each. */
      thickness: number(0, 500, { plain: 0 }),
      thicknessColour: whole(0, 0xffffff, { plain: 0x6b5a48 }),
      /** Whether it was begun by strokes: then on that frame they alone say what it is. */
      painted: flag(false),
      /** How a loop is taken to other frames: its line along the moving edge, or what is in it cut out again. */
      carriedBy: choice(carriedByWays, 'edge'),
      /** The outline whose strokes it was made from too, as a part or a hole of its subject; null: its own, or none. */
      subjectId: orNull(reference('outline')),
      ...edgeFields,
    },
  },
  /** The points of an outline at one key. */
  pose: {
    called: 'a pose',
    collection: 'poses',
    shape: 'by frame',
    derivedId: ({ outlineId, frame }: IdParts) => poseId(outlineId, frame),
    storesId: false,
    fields: {
      /** `poseId(outlineId, frame)`. */
      id: ident(),
      outlineId: reference('outline'),
      /** Source frame of the layer's shot. */
      frame: sourceFrame(),
      origin: choice(origins),
      /** The way to the next pose. */
      onward: choice(onwards, 'linear'),
      /** Six numbers a point: x, y, then the offsets of the incoming and the outgoing handle, in shot pixels. */
      coordinates: numbers({
        low: -1e6,
        high: 1e6,
        least: numbersPerPoint,
        most: limits.points * numbersPerPoint,
        per: numbersPerPoint,
      }),
      /** Why it is unsure; null: it is sure, or by hand. */
      unsure: orNull(choice(doubts)),
      /** How likely it is off, 0 to 1; the worst is corrected first. */
      doubt: number(0, 1, { plain: 0 }),
      /** px by which the line may be off at each point; empty where that is nothing. */
      offBy: fewNumbers({ low: 0, high: 1000, least: 0, most: limits.points, per: 1 }),
    },
  },
  /** The edge of an outline at one key. */
  edge: {
    called: 'an edge key',
    collection: 'edges',
    shape: 'by frame',
    derivedId: ({ outlineId, frame }: IdParts) => edgeId(outlineId, frame),
    storesId: true,
    fields: {
      /** `edgeId(outlineId, frame)`. */
      id: ident(),
      outlineId: reference('outline'),
      /** Source frame of the layer's shot. */
      frame: sourceFrame(),
      onward: choice(onwards),
      ...edgeFields,
    },
  },
  /** A stroke on a frame that says what an outline's subject is, or is not: see core/subject. */
  stroke: {
    called: 'a stroke',
    collection: 'strokes',
    shape: 'by id',
    derivedId: null,
    storesId: true,
    fields: {
      id: ownId(),
      outlineId: reference('outline'),
      /** Source frame of the layer's shot. */
      frame: sourceFrame(),
      /** The order in which an outline's strokes were painted. */
      position: whole(0, 100_000),
      mark: choice(strokeMarks),
      /** Half the brush's width, px of the shot. */
      radius: number(0.5, 2000),
      /** x, y by turns, px of the shot. */
      path: numbers({ low: -1e6, high: 1e6, least: 2, most: 4000, per: 2 }),
    },
  },
  /** The colour by which a layer is keyed: what of its shot has it is cut away. Its id is the layer's. */
  chroma: {
    called: 'a keyed colour',
    collection: 'chromas',
    shape: 'by id',
    derivedId: null,
    storesId: true,
    fields: {
      id: reference('layer'),
      /** The colour, in 8-bit code values of Cb and Cr. */
      cb: number(0, 255),
      cr: number(0, 255),
      /** Distance from it in that plane within which all is cut, and over which it goes to nothing. */
      tolerance: number(0, 200),
      softness: number(0, 200),
      /** How far what is cut is grown (+) or shrunk (−), px of the shot. */
      grow: number(-40, 40),
      /** Side of a square, px of the shot, below whose area specks and holes are cleaned away. */
      clean: number(0, 200),
      /** How much of the colour is taken out of what is left, percent. */
      spill: number(0, 100),
    },
  },
  /**
   * What a layer, the whole picture or a leaf does at one crossing frame: see core/move. A layer without keys is as it
   * was set for all frames.
   */
  move: {
    called: 'a key',
    collection: 'moves',
    shape: 'by id',
    derivedId: ({ ownerId, channel, frame }: IdParts) => moveId(ownerId, channel, frame),
    storesId: true,
    fields: {
      /** `moveId(ownerId, channel, frame)`. */
      id: ident(),
      /** The layer's id, the crossing's for the whole picture, or a leaf's outline's. */
      ownerId: reference('layer', 'crossing', 'outline', 'piece'),
      channel: choice(channels),
      frame: whole(0, mostFrames),
      /** The way to the next key. */
      onward: choice(onwards),
      /** Handles of an eased way, x1, y1, x2, y2; empty: slow away and slow to a stop. */
      ease: fewNumbers({ low: -10, high: 10, least: 0, most: 4, per: 4 }),
      /** Its numbers, as `channelNumbers` lists them; 0 where a channel has fewer. */
      value: number(-20_000, 20_000),
      second: number(-20_000, 20_000, { plain: 0 }),
      third: number(-20_000, 20_000, { plain: 0 }),
    },
  },
  /** A piece of sound on a track. Samples are counted at the mix's rate, 48 kHz: see core/sound. */
  piece: {
    called: 'a piece of sound',
    collection: 'pieces',
    shape: 'by id',
    derivedId: null,
    storesId: true,
    fields: {
      id: ownId(),
      name: text(1, limits.name),
      track: whole(0, mostTracks - 1),
      source: choice(pieceSources),
      /** The sound, shot or layer that it comes from; null where it is made. */
      sourceId: orNull(looseReference('sound', 'shot', 'layer')),
      /** The crossing sample at which it begins; a layer's sound lies where its pictures do. */
      start: whole(-mostSamples, mostSamples),
      /** The first sample of its source that is heard, and how many are. */
      inSample: whole(0, mostSamples),
      length: whole(1, mostSamples),
      /** dB. */
      level: number(-60, 12, { plain: 0 }),
      /** Samples over which it comes and goes. */
      fadeIn: whole(0, mostSamples, { plain: 0 }),
      fadeOut: whole(0, mostSamples, { plain: 0 }),
      /** From the left (−100) to the right (100). */
      pan: number(-100, 100, { plain: 0 }),
      muted: flag(false),
      /** Whether it lies behind the moving edge: as that opens it gets clear and full. */
      behind: flag(false),
      /** dB, and Hz of its low-pass, while the way is closed. */
      closedLevel: number(-60, 0, { plain: -14 }),
      closedLowPass: number(20, 20_000, { plain: 350 }),
      /** How much the wall rings, percent. */
      ring: number(0, 100, { plain: 0 }),
      /** Handles of the course from closed to open, x1, y1, x2, y2; empty: straight. */
      bend: fewNumbers({ low: 0, high: 1, least: 0, most: 4, per: 4 }),
      crossfade: choice(crossfades, 'none'),
      /** Whether a crossfade runs from the opening to the closing evenly; else along what is covered. */
      crossfadeByTime: flag(false),
      /** Of a made one: see core/sound/makers.ts. */
      maker: choice(makerNames, 'air sweep'),
      /** Samples of the whole, of which a trimmed piece is a part. */
      madeLength: whole(1, mostMade, { plain: 48_000 }),
      height: number(-2, 2, { plain: 0 }),
      brightness: number(0, 100, { plain: 50 }),
      loudestAt: number(0, 100, { plain: 55 }),
      seed: whole(0, 1_000_000, { plain: 1 }),
    },
  },
  /** A named frame of the crossing; *opens* and *closes* are the first and the last of the moving edge. */
  mark: {
    called: 'a mark',
    collection: 'marks',
    shape: 'by id',
    derivedId: null,
    storesId: true,
    fields: {
      id: ownId(),
      frame: whole(0, mostFrames),
      kind: choice(markKinds),
      name: text(1, limits.markName),
    },
  },
  /** What the first draft has decided, or could not; the edit that it came with holds what it changed. */
  decision: {
    called: 'a decision',
    collection: 'decisions',
    shape: 'by id',
    derivedId: null,
    storesId: true,
    fields: {
      id: ownId(),
      /** Its place in the list, from 0. */
      position: whole(0, 10_000),
      /** The step in which it is changed. */
      step: choice(decidedIn),
      what: text(1, limits.decision),
      /** What it rests on. */
      basis: text(0, limits.decision),
      sure: choice(surenesses),
    },
  },
} as const;

export type Table = keyof typeof tables;
export type RowTypes = { [T in Table]: RowOf<(typeof tables)[T]['fields']> };

/** A table's rows in a document: one; by id; or by outline id, each list ascending by frame. */
type CollectionOf<T extends Table> = (typeof tables)[T]['shape'] extends 'one'
  ? RowTypes[T]
  : (typeof tables)[T]['shape'] extends 'by id'
    ? Readonly<Record<string, RowTypes[T]>>
    : Readonly<Record<string, readonly RowTypes[T][]>>;

/**
 * A crossing in memory, a collection for each table. Never changed in place: an edit makes a new one that shares what
 * stayed the same.
 */
export type CrossingDocument = { [T in Table as (typeof tables)[T]['collection']]: CollectionOf<T> };

export type CrossingRow = RowTypes['crossing'];
export type LayerRow = RowTypes['layer'];
export type OutlineRow = RowTypes['outline'];
export type PoseRow = RowTypes['pose'];
export type EdgeRow = RowTypes['edge'];
export type ChromaRow = RowTypes['chroma'];
export type StrokeRow = RowTypes['stroke'];
export type MarkRow = RowTypes['mark'];
export type MoveRow = RowTypes['move'];
export type PieceRow = RowTypes['piece'];
export type EdgeSettings = RowOf<typeof edgeFields>;
export type ChromaSettings = Omit<ChromaRow, 'id'>;

/** A crossing, an edge, a layer, an outline and a piece of sound as they are before anything is set. */
export const plainCrossing = plainOf(tables.crossing.fields);
export const plainEdge: EdgeSettings = plainOf(edgeFields);
export const plainLayer = plainOf(tables.layer.fields);
export const plainPose = plainOf(tables.pose.fields);
export const plainOutline = plainOf(tables.outline.fields, 'cutsLayerId');
export const plainPiece = plainOf(tables.piece.fields, 'sourceId');
