export { insertStage, withInputShaft } from './insert';
export { type Reached, STAGE_KINDS, canBegin, reachRatio, stageKind, stageProblem, stageValues } from './kinds';
export { countsFor } from './sizes';
export type { StageKind, StageMade, StageProblem, StageRequest } from './protocol';
export type { Values } from './values';
