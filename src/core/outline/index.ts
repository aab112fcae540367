export { flattenOutline, pointCount, segmentCount, segmentCubic } from './curve';
export { inBetween } from './in-between';
export { middleOfLongestGap, smoothedPoses, superfluousPoses } from './poses';
export { regionOf, type Region } from './region';
export { shapeAt, startingCoordinates, type Shape } from './shape';
export { insertPoint, nearestOnOutline, removePoint } from './topology';
