/**
 * The numbers by which edges are followed. Distances are px of the shot, or samples where it says so (a sample is a px, or
 * more along a soft edge); brightness is in 8-bit code values. Where no source is named, a number was chosen on the drawn
 * passes of bench/passes and is no more exact than a third: bench `carry` says what another does.
 */
export interface FollowSettings {
  /** Samples that the edge is looked for to either side of where it is expected. */
  reach: number;
  /** Samples beyond that which are compared. */
  beyond: number;
  /** Cost of a bend of the line, and of a step that any bend costs at most: see edge/chain.ts. */
  stiffness: number;
  leap: number;
  /** Most frames between a frame and the one that lays bare what lies behind. */
  farthest: number;
  /** Noise of a calmed picture, standard deviation, code values. */
  noise: number;
  /** Share of a place's own movement that is expected to go on. */
  ownKept: number;
  /** Share of the object's memory that each frame renews. */
  renewal: number;
  /** Share of the object's turn and growth that is expected to go on. */
  turnKept: number;
  learning: LearningSettings;
  expecting: ExpectingSettings;
  looking: LookingSettings;
  behind: BehindSettings;
  remembering: RememberingSettings;
  pace: PaceSettings;
  texture: TextureSettings;
  leaping: LeapSettings;
}

/** How far an edge goes from a frame to its neighbour, told from what either side shows in both. */
export interface PaceSettings {
  /** Where the bands begin that tell how either side goes: px beside the line, and a share of the picture's width; px of their depth. */
  near: number;
  far: number;
  depth: number;
  /** px beside the line within which nothing is known of either side. */
  margin: number;
  /** Standard deviation, code values, at which a sample differs for certain, and what one costs that was not seen before. */
  differs: number;
  unseen: number;
  /** Share of its size by which another step has to cost more, px at the least, and how much more for each px. */
  apart: number;
  leastApart: number;
  clear: number;
}

/** Whether what the object shows goes along with its edge. */
export interface TextureSettings {
  /** px beyond the softness and the edge's way from which inward it is told, and how deep that band is. */
  clearance: number;
  depth: number;
  /** Share of that band that its own movement has to explain. */
  explains: number;
  /** px a frame from which on it goes another way than the edge. */
  apart: number;
  /** Share of the difference that the edge's movement leaves which its own may leave. */
  better: number;
  /** Frames up to which another one on which the line is known says how it goes on here. */
  farthest: number;
}

/** Where the line leaps to, as to a limb that comes out of the object. */
export interface LeapSettings {
  /** Share of the picture's width that is looked at to either side, and px from sample to sample. */
  reachShare: number;
  step: number;
  /** px from the expectation from which on it is a leap, and what a place that is so far off costs. */
  least: number;
  pull: number;
  /** px off the expectation from which on a place is looked for again about where it leapt to, if that is near. */
  moved: number;
  /** Cost of a sample from which on it is badly explained where it stays. */
  leastMisfit: number;
  /** px a frame against what lies behind under which the object's texture says nothing of where its edge goes. */
  stillBelow: number;
  /** px from which on a place is on another part of the object, and has not only moved. */
  elsewhere: number;
  /** Cost of a px from place to place, and of a leap however far. */
  slope: number;
  leap: number;
  /** px right inside the edge that are the object. */
  thin: number;
  /** Noise, code values, and how many px say the same. */
  noise: number;
  correlated: number;
}

/** How a run is learnt on the frame where it is known. */
export interface LearningSettings {
  /** Softness, px, before it is fitted: that of a sharp camera's edge. */
  sigma: number;
  /** Depth of the object's band at first, px inward, and how far its movement is looked for, shares of the picture's width. */
  bandDepth: number;
  acrossShare: number;
  downShare: number;
  trust: number;
  /** How far what lies behind is looked for, px across and down. */
  behindSearch: readonly [number, number];
  /** px to either side of the line within which softness is fitted. */
  softnessReach: number;
  /** Samples per softness reach: softer edges are looked at more coarsely. */
  samplesPerSoftness: number;
}

/** How the next frame is expected. */
export interface ExpectingSettings {
  /** px beyond the softness to which the object's band goes inward, and where it begins. */
  bandDepth: number;
  bandFrom: number;
  acrossPx: number;
  downPx: number;
  trust: number;
  /** Share of the band that a movement has to explain to be believed. */
  explains: number;
  /** Share from which on it explains it well. */
  wellExplained: number;
  /** Most growth and turn from one frame to the next, as the sum of their matrix entries. */
  mostTurn: number;
}

/** How the edge is looked for on a frame. */
export interface LookingSettings {
  /** Rounds: where places move otherwise than was thought, they uncover otherwise too, and are looked at again. */
  rounds: number;
  /** Distance from the expectation, samples, from which a place counts as moving otherwise. */
  lookAgainFrom: number;
  /** Half samples about what the coarse look found that the fine look tries. */
  fineReach: number;
  /** How far the line between is movingMean, samples. */
  evenness: number;
  /** Cost that pulls to the expectation: at `pullAt` of the reach it is `pull`, and at most `mostPull` times that. */
  pull: number;
  pullAt: number;
  mostPull: number;
  /** px of colours learnt to either side, and places over which they are averaged. */
  sideDepth: number;
  sideRows: number;
  /** px beyond the likely error that are looked at afresh. */
  afreshBeyond: number;
}

/** Which frame shows what lies behind. */
export interface BehindSettings {
  /** Slowest pace that is divided by, px a frame. */
  leastPace: number;
  /** px beyond reach and softness that the edge has to be gone. */
  clearance: number;
  /** Share of what is compared beyond the reach that it has to be gone, too. */
  ofBeyond: number;
  /** The frame asked last does as well within these shares of the distance, and so many frames more. */
  keptFrom: number;
  keptTo: number;
  keptFrames: number;
  /** px across and down that are searched, and more for each frame of distance where the way is not known. */
  search: readonly [number, number];
  searchPerFrame: readonly [number, number];
  /** How far an edge may be from where its pace takes it in that frame, shares; and px beyond. */
  paceLow: number;
  paceHigh: number;
  margin: number;
}

/** What is remembered of either side. */
export interface RememberingSettings {
  /** From this share of the object on, a sample is taken to be all object. */
  purelyObject: number;
  /** Paces that share a softness profile: eighths of a px a frame. */
  pacesPerPx: number;
  /** Samples of shade that are looked at outward. */
  shadeReach: number;
  /** px beyond the softness at which shade begins. */
  shadeFrom: number;
}

export const usualSettings: FollowSettings = {
  reach: 20,
  beyond: 14,
  stiffness: 1.4,
  leap: 0.02,
  farthest: 24,
  noise: 2.5,
  ownKept: 0.7,
  renewal: 0.25,
  turnKept: 0.8,
  learning: {
    sigma: 0.8,
    bandDepth: 46,
    acrossShare: 0.09,
    downShare: 0.03,
    trust: 4,
    behindSearch: [40, 24],
    softnessReach: 40,
    samplesPerSoftness: 9,
  },
  expecting: {
    bandDepth: 42,
    bandFrom: 1.5,
    acrossPx: 24,
    downPx: 16,
    trust: 5,
    explains: 0.3,
    wellExplained: 0.7,
    mostTurn: 0.04,
  },
  looking: {
    rounds: 2,
    lookAgainFrom: 2.5,
    fineReach: 6,
    evenness: 0.8,
    pull: 0.5,
    pullAt: 0.6,
    mostPull: 4,
    sideDepth: 14,
    sideRows: 6,
    afreshBeyond: 20,
  },
  behind: {
    leastPace: 0.3,
    clearance: 2,
    ofBeyond: 0.3,
    keptFrom: 0.85,
    keptTo: 1.5,
    keptFrames: 2,
    search: [10, 8],
    searchPerFrame: [3, 1.5],
    paceLow: 0.9,
    paceHigh: 1.1,
    margin: 2,
  },
  remembering: { purelyObject: 0.98, pacesPerPx: 8, shadeReach: 16, shadeFrom: 1.5 },
  pace: {
    near: 12,
    far: 0.05,
    depth: 60,
    margin: 2,
    differs: 12,
    unseen: 0.35,
    apart: 0.25,
    leastApart: 3,
    clear: 0.06,
  },
  texture: { clearance: 8, depth: 60, explains: 0.5, apart: 2, better: 0.7, farthest: 2 },
  leaping: {
    reachShare: 0.16,
    step: 2,
    least: 12,
    pull: 2,
    moved: 4,
    stillBelow: 3,
    leastMisfit: 2,
    elsewhere: 48,
    slope: 0.15,
    leap: 6,
    thin: 14,
    noise: 2.5,
    correlated: 8,
  },
};
